import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: { assetsInlineLimit: 0, target: "es2022", sourcemap: false, chunkSizeWarningLimit: 900 },
  server: { proxy: { "/api": "http://127.0.0.1:8420" }, fs: { allow: [".", "../docs"] } },
  // On a busy machine a test that types takes many times as long as alone: its time says nothing about it.
  test: { testTimeout: 60_000, setupFiles: ["src/shell/patience.ts"] },
});
