import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

/** Reads that a phone may show again when it is opened out of reach. */
const HOUSE_READS =
  /\/api\/v1\/houses(\/\d+(\/(beliefs|tracing|plans\/[^/]+|panels\/\d+\/(face|card\.svg)|jobs(\/\d+)?|find|shutdown|breakers\/\d+\/reset|glance|today))?)?(\?.*)?$/;

export default defineConfig({
  plugins: [
    react(),
    VitePWA({
      registerType: "autoUpdate",
      // The content policy allows no script in the page itself.
      injectRegister: "script-defer",
      manifest: {
        name: "Wayfinder",
        short_name: "Wayfinder",
        description: "Which breaker feeds what",
        display: "standalone",
        start_url: "/",
        background_color: "#f6f3ea",
        theme_color: "#24483a",
        icons: [{ src: "/icon.svg", sizes: "any", type: "image/svg+xml", purpose: "any" }],
      },
      workbox: {
        // The very first visit counts: without this a phone opened once, then out of reach, has nothing to show.
        clientsClaim: true,
        skipWaiting: true,
        globPatterns: ["**/*.{js,css,html,svg}", "**/*-latin-wght-*.woff2"],
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//],
        runtimeCaching: [
          {
            // A pattern, not a function: a function would be copied into the worker without what it refers to.
            urlPattern: HOUSE_READS,
            handler: "NetworkFirst",
            options: { cacheName: "house", networkTimeoutSeconds: 6, expiration: { maxEntries: 200 } },
          },
        ],
      },
    }),
  ],
  build: { target: "es2022", chunkSizeWarningLimit: 700 },
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
});
