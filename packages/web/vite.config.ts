import react from '@vitejs/plugin-react';
import { defaultClientConditions, defineConfig } from 'vite';

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react()],
  resolve: { conditions: ['@contactum/source', ...defaultClientConditions] },
  worker: { format: 'es' },
  build: {
    target: 'es2022',
    sourcemap: false,
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            {
              name: 'react',
              test: /node_modules[\\/](react|react-dom|react-router|scheduler|zustand|@tanstack)[\\/]/,
            },
            { name: 'd3', test: /node_modules[\\/]d3/ },
          ],
        },
      },
    },
  },
});
