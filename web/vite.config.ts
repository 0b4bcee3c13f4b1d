import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
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
  build: { target: 'es2023', chunkSizeWarningLimit: 900 },
});
