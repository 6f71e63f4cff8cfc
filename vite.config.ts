import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { compression, defineAlgorithm } from 'vite-plugin-compression2'
import { VitePWA } from 'vite-plugin-pwa'

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    // All of the app is kept by the browser; a new version waits until the user takes it.
    VitePWA({
      registerType: 'prompt',
      injectRegister: false,
      manifest: {
        id: '/',
        name: 'Unfinished Brick',
        short_name: 'Unfinished Brick',
        description: 'From donor sets, a shelf and a design to orders with a total.',
        lang: 'en',
        display: 'standalone',
        start_url: '/',
        background_color: '#f3f5f2',
        theme_color: '#1c5d8c',
        icons: [
          { src: '/icon.svg', sizes: 'any', type: 'image/svg+xml' },
          { src: '/icon-192.png', sizes: '192x192', type: 'image/png' },
          { src: '/icon-512.png', sizes: '512x512', type: 'image/png' },
        ],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,png,woff2,wasm}'],
        maximumFileSizeToCacheInBytes: 8 * 1024 * 1024,
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//],
        cleanupOutdatedCaches: true,
      },
    }),
    // Once, not at every request; the solver, of megabytes, less thoroughly than the rest.
    compression({ include: /\.(js|css)$/, threshold: 1024, logLevel: 'silent' }),
    compression({ include: /\.wasm$/, algorithms: [defineAlgorithm('gzip', { level: 9 })], logLevel: 'silent' }),
  ],
  worker: { format: 'es' },
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 700,
    rolldownOptions: {
      output: {
        // What is always needed comes in one file, and small ones that screens share join: a browser asks for few at a time.
        codeSplitting: {
          groups: [
            { name: 'first', tags: ['$initial'], priority: 1 },
            { name: 'shared', minShareCount: 2, entriesAware: true, entriesAwareMergeThreshold: 15_000 },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://localhost:4173' } },
})
