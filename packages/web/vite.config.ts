import react from '@vitejs/plugin-react';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';
import { compression } from 'vite-plugin-compression2';

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    // Packed once, here, and not for each reader.
    compression({ algorithms: ['gzip', 'brotliCompress'], exclude: [/\.map$/] }),
  ],
  server: { host: '127.0.0.1', proxy: { '/api': 'http://127.0.0.1:4600' } },
  build: { sourcemap: true, target: 'es2023' },
});
