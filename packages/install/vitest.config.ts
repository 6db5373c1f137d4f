import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts'],
    environment: 'node',
    globalSetup: ['src/test/bundle.global.ts'],
    testTimeout: 300_000,
    hookTimeout: 300_000,
  },
});
