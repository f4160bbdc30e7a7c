import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  resolve: { conditions: ['source', 'module', 'browser', 'development|production'] },
  server: { host: '127.0.0.1', proxy: { '/api': 'http://127.0.0.1:4181' } },
  build: { target: 'es2022', sourcemap: false, chunkSizeWarningLimit: 700 },
});
