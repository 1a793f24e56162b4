import babel from "@rolldown/plugin-babel";
import tailwindcss from "@tailwindcss/vite";
import react, { reactCompilerPreset } from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  // What a component was given and did not change is not drawn again: the compiler of React sees to it.
  plugins: [react(), babel({ presets: [reactCompilerPreset()] }), tailwindcss()],
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
