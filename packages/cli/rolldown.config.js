import { defineConfig } from 'rolldown';

/** The command in few files, so that it starts fast; what only some commands need stays apart. */
export default defineConfig({
  input: { 'deep-ledger': 'dist/main.js' },
  platform: 'node',
  output: { dir: 'dist/bundle', format: 'esm', cleanDir: true, chunkFileNames: '[name]-[hash].js' },
});
