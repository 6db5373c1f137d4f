import { defineConfig } from 'vitest/config';
import { COMMON } from '../vitest.common.js';

export default defineConfig({
  test: {
    ...COMMON,
    // One, so that the demo is built once.
    maxWorkers: 1,
    globalSetup: ['src/test/built.global.ts'],
  },
});
