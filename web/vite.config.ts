import { basename } from "node:path";
import { fileURLToPath } from "node:url";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";
import { compression, defineAlgorithm } from "vite-plugin-compression2";
import { kitStyles } from "./build/kit-styles";

/** What of the kit makes a style without the page's nonce, and ours that makes none. */
const ours: Record<string, string> = {
  getScrollBarSize: "./src/theme/scroll-bar-size.ts",
  useScrollLocker: "./src/theme/scroll-locker.ts",
};

const withoutStyles: Plugin = {
  name: "without-styles",
  enforce: "pre",
  resolveId: (id, importer) => {
    const own = importer?.includes("@rc-component") && ours[id.split("/").at(-1) ?? ""];
    return own ? fileURLToPath(new URL(own, import.meta.url)) : null;
  },
};

/** The two faces that every page begins with are asked for with the page, not after its styles. */
const facesFirst: Plugin = {
  name: "faces-first",
  transformIndexHtml: {
    order: "post",
    handler: (_, { bundle }) =>
      Object.keys(bundle ?? {})
        .filter((file) => /-latin-wght-normal-[\w-]+\.woff2$/.test(file))
        .map((file) => ({
          tag: "link",
          attrs: { rel: "preload", as: "font", type: "font/woff2", href: `/${file}`, crossorigin: "" },
          injectTo: "head" as const,
        })),
  },
};

export default defineConfig({
  plugins: [
    kitStyles,
    withoutStyles,
    facesFirst,
    react(),
    // Made once here, so that no server packs the same file again; fonts are packed already.
    compression({
      include: /\.(js|css|svg|html)$/,
      exclude: /index\.html$/,
      threshold: 1024,
      algorithms: [defineAlgorithm("brotliCompress"), defineAlgorithm("gzip")],
    }),
  ],
  // Read in the browser's tools as they are written here; a page's module has a name of its own.
  css: {
    modules: {
      generateScopedName: (local, file) => {
        const of = basename(file).split(".")[0];
        return local.startsWith(of) ? local : `${of}-${local}`;
      },
    },
  },
  build: { outDir: "dist", emptyOutDir: true, chunkSizeWarningLimit: 900 },
  server: { proxy: { "/api": "http://127.0.0.1:8080" } },
});
