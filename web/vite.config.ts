import react from '@vitejs/plugin-react'
import { resolve } from 'node:path'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

export default defineConfig({
  plugins: [
    react(),
    // The worker that keeps the application itself on the device; it is registered by hand, from the page's own code.
    VitePWA({
      strategies: 'injectManifest',
      srcDir: 'src/device',
      filename: 'worker.ts',
      injectRegister: false,
      manifest: false,
      injectManifest: {
        globPatterns: ['index.html', 'assets/*.{js,css,woff2}'],
        globIgnores: ['assets/docs-*', 'assets/quote-*', '**/*-{cyrillic,greek,vietnamese}*'],
        dontCacheBustURLsMatching: /^assets\//,
        manifestTransforms: [
          // The server gives the page at the address of the application, not at that of its file.
          (entries) => ({ manifest: entries.map((e) => (e.url === 'index.html' ? { ...e, url: '/' } : e)) }),
        ],
      },
    }),
  ],
  server: { proxy: { '/api': 'http://127.0.0.1:8080' } },
  build: {
    target: 'es2022',
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 1200,
    rolldownOptions: {
      input: {
        index: resolve(import.meta.dirname, 'index.html'),
        docs: resolve(import.meta.dirname, 'docs.html'),
        quote: resolve(import.meta.dirname, 'quote.html'),
      },
    },
  },
})
