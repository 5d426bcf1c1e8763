import { fileURLToPath } from "node:url";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** The kit's measure of scroll bars makes a style without the page's nonce; ours makes none. */
const scrollBars: Plugin = {
  name: "scroll-bars",
  enforce: "pre",
  resolveId: (id, importer) =>
    id.endsWith("/getScrollBarSize") && importer?.includes("@rc-component")
      ? fileURLToPath(new URL("./src/theme/scroll-bar-size.ts", import.meta.url))
      : null,
};

export default defineConfig({
  plugins: [scrollBars, react()],
  build: { outDir: "dist", emptyOutDir: true, chunkSizeWarningLimit: 900 },
  server: { proxy: { "/api": "http://127.0.0.1:8080" } },
});
