import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig } from 'vite';
import { compression } from 'vite-plugin-compression2';
import { VitePWA } from 'vite-plugin-pwa';

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    // Pressed once at the build, not at each request.
    compression({ include: /\.(js|css|svg|html)$/, algorithms: ['gzip', 'brotliCompress'] }),
    // The application installs and opens without a network; the API is never answered from a cache.
    VitePWA({
      registerType: 'autoUpdate',
      injectRegister: null,
      manifest: {
        name: 'Mile Mark',
        short_name: 'Mile Mark',
        description: 'Brake readings in, mile mark out',
        start_url: '/measure',
        scope: '/',
        display: 'standalone',
        background_color: '#1d1f21',
        theme_color: '#2b2d2f',
        icons: [{ src: '/mark.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//],
        clientsClaim: true,
        skipWaiting: true,
      },
    }),
  ],
  resolve: { conditions: ['source', ...defaultClientConditions] },
  // The server reads the manifest, to tell the browser which files a page will need.
  build: {
    target: 'es2023',
    chunkSizeWarningLimit: 900,
    manifest: true,
    // What every page waits for comes as one file: many small ones cost more than their bytes.
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [{ name: 'base', tags: ['$initial'] }],
        },
      },
    },
  },
});
