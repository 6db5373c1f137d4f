import { defineConfig } from 'rolldown';

/** The command in few files, so that it starts fast; what only some commands need stays apart. */
export default defineConfig({
  input: { 'deep-ledger': 'dist/main.js' },
  platform: 'node',
  // Modules are put together into few files; what is written in the older form finds its parts only where it lies.
  resolve: { mainFields: ['module', 'main'] },
  output: { dir: 'dist/bundle', format: 'esm', cleanDir: true, chunkFileNames: '[name]-[hash].js' },
});
