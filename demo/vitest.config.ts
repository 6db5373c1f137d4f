import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts'],
    environment: 'node',
    // One process for all files: none keeps anything for itself, and loading the program takes long.
    isolate: false,
    globalSetup: ['src/test/built.global.ts'],
    testTimeout: 300_000,
    hookTimeout: 300_000,
  },
});
