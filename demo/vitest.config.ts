import { defineConfig } from 'vitest/config';
import { asBuilt, COMMON } from '../vitest.common.js';

export default defineConfig({
  plugins: [asBuilt(import.meta.dirname)],
  test: {
    ...COMMON,
    // One, so that the demo is built once.
    maxWorkers: 1,
    globalSetup: ['src/test/built.global.ts'],
  },
});
