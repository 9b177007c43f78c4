import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: "../src/inkthread/web/static",
    emptyOutDir: true,
    target: "es2022",
    // What the rooms share comes with the first of them, in one piece.
    rolldownOptions: {
      output: {
        codeSplitting: { groups: [{ name: "shared", test: /node_modules|src\/(components|api)\/|src\/[^/]+\.ts$/ }] },
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8137" } },
});
