import { readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import type { Plugin } from "vite";

const folder = fileURLToPath(new URL("../../core/words", import.meta.url));
const prefix = "virtual:core-words-";

/** The core's words of one language as one text, for its worker: "virtual:core-words-es". */
export const coreWords: Plugin = {
  name: "core-words",
  resolveId: (id) => (id.startsWith(prefix) ? `\0${id}` : null),
  load(id) {
    if (!id.startsWith(`\0${prefix}`)) return null;
    const lang = `${folder}/${id.slice(prefix.length + 1)}`;
    const files = readdirSync(lang).map((name) => `${lang}/${name}`);
    for (const file of files) this.addWatchFile(file);
    const texts = Object.assign({}, ...files.map((file) => JSON.parse(readFileSync(file, "utf8"))));
    return `export default ${JSON.stringify(JSON.stringify(texts))}`;
  },
};
