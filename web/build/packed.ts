import { readdirSync } from "node:fs";
import { readFile, rm, writeFile } from "node:fs/promises";
import { join, sep } from "node:path";
import { promisify } from "node:util";
import { brotliCompress, constants } from "node:zlib";
import type { Plugin } from "vite";

const pack = promisify(brotliCompress);
const packs = /\.(js|css|svg|html|wasm)$/;
/** The server fills these in, so they stay as they are. */
const asTheyAre = /(^|[\\/])index\.html$/;
const least = 1024;

/**
 * The best level takes 38 s for the core and saves 12 % of it over level 9, which takes 2 s: a phone fetches it once a
 * version, when the page is quiet. The pages' own files are small, and a slow line waits for them.
 */
const quality = (name: string) => (name.endsWith(".wasm") ? 9 : constants.BROTLI_MAX_QUALITY);

/**
 * Packs what is served, and keeps it only so: the program holds each file once, and the server unpacks it for the
 * rare browser that does not take it packed. It comes last, when the worker's list of files is written.
 */
export const packed: Plugin = {
  name: "packed",
  apply: "build",
  enforce: "post",
  closeBundle: {
    sequential: true,
    order: "post",
    async handler() {
      const dist = "dist";
      const names = readdirSync(dist, { recursive: true, encoding: "utf8" }).map((name) => name.split(sep).join("/"));
      await Promise.all(
        names
          .filter((name) => packs.test(name) && !asTheyAre.test(name))
          .map(async (name) => {
            const file = join(dist, name);
            const plain = await readFile(file);
            if (plain.length < least) return;
            const small = await pack(plain, {
              params: {
                [constants.BROTLI_PARAM_QUALITY]: quality(name),
                [constants.BROTLI_PARAM_SIZE_HINT]: plain.length,
              },
            });
            if (small.length >= plain.length) return;
            await writeFile(`${file}.br`, small);
            await rm(file);
          }),
      );
    },
  },
};
