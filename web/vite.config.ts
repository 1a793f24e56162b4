import babel from "@rolldown/plugin-babel";
import tailwindcss from "@tailwindcss/vite";
import react, { reactCompilerPreset } from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** The fonts that the first screen is written in are asked for at once: no line jumps when they arrive. */
const fontsAtOnce: Plugin = {
  name: "fonts-at-once",
  transformIndexHtml: {
    order: "post",
    handler(_, { bundle = {} }) {
      return Object.keys(bundle)
        .filter((file) => /-latin-wght-(normal|italic)-.*\.woff2$/.test(file))
        .map((file) => ({
          tag: "link",
          attrs: { rel: "preload", as: "font", type: "font/woff2", href: `/${file}`, crossorigin: "" },
          injectTo: "head-prepend",
        }));
    },
  },
};

export default defineConfig({
  // What a component was given and did not change is not drawn again: the compiler of React sees to it.
  plugins: [react(), babel({ presets: [reactCompilerPreset()] }), tailwindcss(), fontsAtOnce],
  resolve: { alias: { "@": new URL("./src", import.meta.url).pathname } },
  // The Python package carries the built interface.
  build: {
    outDir: "../src/next_penny/interface",
    emptyOutDir: true,
    chunkSizeWarningLimit: 900,
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
  },
  server: { port: 5173, proxy: { "/api": { target: "http://127.0.0.1:8765", changeOrigin: true } } },
});
