import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { compression } from "vite-plugin-compression2";
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
    // Once, as small as can be: the server hands these out as they are.
    compression({ algorithms: ["brotliCompress"], include: /\.(js|css|html|svg)$/ }),
  ],
  build: {
    target: "es2022",
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        // The pages of a folder are one request, what pages share is another, and so is what most of them need of packages: a
        // phone far from the router waits for each.
        advancedChunks: {
          groups: [
            // What is chosen from by typing is large, and not on the first page.
            { name: "packages", test: /node_modules\/(?!.*(Autocomplete|[Pp]opper))/, minShareCount: 3, priority: 5 },
            { name: "choosing", test: /node_modules\/.*(Autocomplete|[Pp]opper)/, priority: 4 },
            // The way to every page, without any of them.
            { name: "frame", test: /src\/app\/(App|routes|theme|NoSuchPage|BrokenPage)/, priority: 3 },
            {
              name: "shared",
              test: /src\/(?!answers\/PointPicker|trace\/|loads\/|survey\/)/,
              minShareCount: 2,
              priority: 2,
            },
            {
              name: (id) => /src\/([a-z]+)\//.exec(id)?.[1] ?? null,
              test: /src\/(?!api|app|parts)[a-z]+\//,
              priority: 1,
            },
          ],
        },
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
});
