import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  base: "/",
  resolve: { alias: { "~": new URL("./src", import.meta.url).pathname } },
  server: { proxy: { "/api": "http://127.0.0.1:8080" } },
  build: {
    target: "es2022",
    assetsInlineLimit: 0,
    sourcemap: false,
    rollupOptions: {
      input: { index: "index.html", "cook-worker": "src/cook-worker.ts" },
      output: {
        // A worker is told from its address: it keeps one, and a browser looks for a newer one there.
        entryFileNames: (chunk) =>
          chunk.name === "cook-worker" ? "[name].js" : "assets/[name]-[hash].js",
      },
    },
  },
});
