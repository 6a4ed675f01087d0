import { join } from "node:path";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react(), tailwindcss()],
  worker: { format: "es" },
  build: { outDir: join(import.meta.dirname, "..", "dist", "web"), emptyOutDir: true, chunkSizeWarningLimit: 8000, target: "es2023" },
  server: { port: 4180, proxy: { "/api": { target: `http://127.0.0.1:${process.env.PLAN_TESTER_PORT ?? 4177}`, changeOrigin: false } } },
});
