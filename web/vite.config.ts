import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import { basename } from "node:path";
import { fileURLToPath } from "node:url";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";
import { VitePWA } from "vite-plugin-pwa";
import { coreWords } from "./build/core-words.ts";
import { firstChunk } from "./build/first-chunk.ts";
import { formsLater, kitImports } from "./build/kit-imports.ts";
import { kitStyles } from "./build/kit-styles.ts";
import { packed } from "./build/packed.ts";

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

/**
 * What every page needs and its styles or scripts would ask for late: two faces, and the words of
 * each language, of which the server leaves the reader's.
 */
const namedAhead: Plugin = {
  name: "named-ahead",
  transformIndexHtml: {
    order: "post",
    handler: (_, { bundle }) =>
      Object.values(bundle ?? {}).flatMap((made) => {
        const lang = made.type === "chunk" && made.facadeModuleId?.match(/i18n\/(\w+)\.json$/)?.[1];
        const attrs = lang
          ? { rel: "modulepreload", crossorigin: "", "data-lang": lang }
          : /-latin-wght-normal-[\w-]+\.woff2$/.test(made.fileName) && {
              rel: "preload",
              as: "font",
              type: "font/woff2",
              fetchpriority: "low",
              crossorigin: "",
            };
        return attrs ? [{ tag: "link", attrs: { ...attrs, href: `/${made.fileName}` }, injectTo: "head" as const }] : [];
      }),
  },
};

export default defineConfig({
  worker: { format: "es", plugins: () => [coreWords] },
  plugins: [
    kitImports,
    formsLater,
    kitStyles,
    withoutStyles,
    namedAhead,
    react(),
    VitePWA({
      // Registered by frame/worker.ts, when the page is quiet.
      injectRegister: null,
      manifest: {
        id: "/",
        name: "Fair Lap",
        short_name: "Fair Lap",
        description: "Pool rounds: readings, suspects, work and record",
        start_url: "/",
        display: "standalone",
        background_color: "#faf7f0",
        theme_color: "#14202b",
        icons: [
          { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
        ],
      },
      workbox: {
        globPatterns: ["**/*.{html,js,css,svg,woff2,wasm}"],
        maximumFileSizeToCacheInBytes: 16e6, // the core; a quarter of it on the line
        inlineWorkboxRuntime: true,
        // A page that was opened before the worker stood is served by it too.
        clientsClaim: true,
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/(api|shared|healthz|readyz|metrics)\b/],
      },
    }),
    packed,
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
  define: {
    __CONTRACT__: JSON.stringify(createHash("sha256").update(readFileSync("openapi.yaml")).digest("hex").slice(0, 12)),
  },
  build: {
    outDir: "dist",
    emptyOutDir: true,
    chunkSizeWarningLimit: 900,
    rolldownOptions: { output: { codeSplitting: { groups: [firstChunk] } } },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8080" } },
});
