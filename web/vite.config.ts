import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

export default defineConfig({
  plugins: [
    vue(),
    tailwindcss(),
    // After one visit the program is on the device: the screens, the core, and the
    // last answer to everything that only reads.
    VitePWA({
      registerType: 'autoUpdate',
      injectRegister: false,
      manifest: {
        name: 'Zealous Knot',
        short_name: 'Zealous Knot',
        description: 'Checks rope access rigs, for trained people.',
        start_url: '/',
        display: 'standalone',
        background_color: '#f7f4ed',
        theme_color: '#f7f4ed',
        icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
      },
      workbox: {
        importScripts: ['/routes.js'],
        clientsClaim: true,
        skipWaiting: true,
        globPatterns: ['**/*.{js,css,html,svg,woff2,wasm}', 'practice.json'],
        maximumFileSizeToCacheInBytes: 16 << 20,
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//, /^\/(healthz|readyz)$/],
        runtimeCaching: [
          {
            urlPattern:
              /\/api\/v1\/(session|gear|people|policy|preplans|callouts|practice\/(classes|skills)|due|examinations\/points|drops(\?limit=50|\/[^/]+(\/plan)?)?)$/,
            handler: 'NetworkFirst',
            options: {
              cacheName: 'answers',
              networkTimeoutSeconds: 4,
              // The page learns which answers are not the server's of now: src/lib/behind.ts.
              plugins: [
                {
                  cachedResponseWillBeUsed: async ({ cachedResponse }) => {
                    if (!cachedResponse) return null
                    const headers = new Headers(cachedResponse.headers)
                    headers.set('X-Kept-On-Device', '1')
                    return new Response(await cachedResponse.blob(), { status: cachedResponse.status, headers })
                  },
                },
              ],
            },
          },
        ],
      },
    }),
  ],
  // The core's worker is a module, as the pages are.
  worker: { format: 'es' },
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: {
    outDir: '../internal/web/ui/dist/app',
    emptyOutDir: true,
    // The page's policy refuses inline code and data: scripts and fonts.
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8137' } },
})
