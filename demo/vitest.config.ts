import { defineConfig } from 'vitest/config';
import { COMMON } from '../vitest.common.js';

export default defineConfig({
  test: {
    ...COMMON,
    globalSetup: ['src/test/built.global.ts'],
  },
});
