import { defineConfig } from 'vitest/config';
import { COMMON } from '../vitest.common.js';

export default defineConfig({
  test: {
    ...COMMON,
    // The projects of the demo's repository have tests that are none of ours.
    include: ['src/**/*.test.ts'],
    globalSetup: ['src/test/built.global.ts'],
  },
});
