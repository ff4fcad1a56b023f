import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const SERVER = process.env.POCKET_TWIN_SERVER ?? 'http://localhost:4820';

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react()],
  // The server puts a fresh nonce here with every page (server/http/page.ts).
  html: { cspNonce: 'nonce-goes-here' },
  worker: { format: 'es' },
  build: { target: 'es2022', assetsInlineLimit: 0 },
  server: {
    port: 4821,
    strictPort: true,
    headers: { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' },
    proxy: { '/api': { target: SERVER, changeOrigin: true } },
  },
});
