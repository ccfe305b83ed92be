import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

export default defineConfig({
  root: import.meta.dirname,
  plugins: [
    react(),
    // The application's own files are kept, so that bench sheets open without a network; nothing of /api is.
    VitePWA({
      registerType: 'autoUpdate',
      injectRegister: null,
      manifest: false,
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        globIgnores: ['**/vfs_fonts*', '**/setter*'],
        maximumFileSizeToCacheInBytes: 3_000_000,
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//, /^\/health/],
        inlineWorkboxRuntime: true,
      },
    }),
  ],
  resolve: { conditions: ['@contactum/source', ...defaultClientConditions] },
  worker: { format: 'es' },
  build: {
    target: 'es2022',
    sourcemap: false,
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      treeshake: {
        // The parts of the components do nothing but define, although their packages do not say so.
        moduleSideEffects: [{ test: /node_modules[\\/]@rc-component[\\/]/, sideEffects: false }],
      },
      output: {
        codeSplitting: {
          groups: [
            {
              name: 'react',
              test: /node_modules[\\/](react|react-dom|react-router|scheduler|zustand|@tanstack)[\\/]/,
            },
          ],
        },
      },
    },
  },
});
