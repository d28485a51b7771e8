import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const source = (path: string): string => new URL(path, import.meta.url).pathname;

export default defineConfig(({ mode }) => ({
  define: { 'process.env.NODE_ENV': JSON.stringify(mode) },
  plugins: [react(), tailwindcss()],
  resolve: {
    alias: [
      { find: /^@ypsigraph\/core\/(.*)$/, replacement: `${source('../../packages/core/src')}/$1.ts` },
      { find: /^@ypsigraph\/contract\/(.*)$/, replacement: `${source('../../packages/contract/src')}/$1.ts` },
    ],
  },
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 900 },
  server: { proxy: { '/api': process.env.API ?? 'http://127.0.0.1:4680' } },
}));
