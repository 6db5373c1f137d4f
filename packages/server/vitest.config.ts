import { defineConfig } from 'vitest/config';
import { COMMON } from '../../vitest.common.js';

export default defineConfig({
  test: {
    ...COMMON,
    // They mostly wait.
    maxWorkers: 2,
    globalSetup: ['../core/src/seed.global.ts', 'src/test/beginning.global.ts'],
  },
});
