import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  base: "/",
  resolve: { alias: { "~": new URL("./src", import.meta.url).pathname } },
  server: { proxy: { "/api": "http://127.0.0.1:8080" } },
  build: { target: "es2022", assetsInlineLimit: 0, sourcemap: false },
});
