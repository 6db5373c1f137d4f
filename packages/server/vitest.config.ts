import { defineConfig } from 'vitest/config';
import { asBuilt, COMMON } from '../../vitest.common.js';

export default defineConfig({
  plugins: [asBuilt(import.meta.dirname)],
  test: {
    ...COMMON,
    // They mostly wait.
    maxWorkers: 2,
    globalSetup: ['../core/src/seed.global.ts', 'src/test/beginning.global.ts'],
  },
});
