import react from "@vitejs/plugin-react";
import { VitePWA } from "vite-plugin-pwa";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [
    react(),
    VitePWA({
      registerType: "prompt",
      injectRegister: null,
      manifest: {
        id: "/",
        name: "Lucid Ridge",
        short_name: "Lucid Ridge",
        description: "Plans compositions, light and exposure, and carries sequences out in the field.",
        start_url: "/",
        scope: "/",
        display: "standalone",
        background_color: "#191E1F",
        theme_color: "#191E1F",
        icons: [
          { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png" },
          { src: "/icon-mask-512.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
        ],
        shortcuts: [
          { name: "Outings", url: "/outings" },
          { name: "On board", url: "/board" },
        ],
      },
      workbox: {
        globPatterns: ["**/*.{js,css,html,svg,png,woff2}"],
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//, /^\/authority/, /^\/metrics/],
        cleanupOutdatedCaches: true,
        // A newer version waits until somebody takes it on: never in the middle of a sequence.
        skipWaiting: false,
        clientsClaim: true,
        runtimeCaching: [
          {
            // The picture of the ground at an address never changes: its key is in it.
            urlPattern: /\/api\/terrains\/relief\//,
            handler: "CacheFirst",
            options: { cacheName: "ground", expiration: { maxEntries: 2000 }, cacheableResponse: { statuses: [200] } },
          },
        ],
      },
    }),
  ],
  build: { assetsInlineLimit: 0, target: "es2022", sourcemap: false, chunkSizeWarningLimit: 900 },
  server: { proxy: { "/api": "http://127.0.0.1:8420" }, fs: { allow: [".", "../docs"] } },
  // On a busy machine a test that types takes many times as long as alone: its time says nothing about it.
  test: { testTimeout: 60_000, setupFiles: ["src/shell/patience.ts"] },
});
