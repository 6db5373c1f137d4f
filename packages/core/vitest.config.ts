import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts'],
    environment: 'node',
    globalSetup: ['src/seed.global.ts'],
    setupFiles: ['src/seed.setup.ts'],
    testTimeout: 60_000,
    hookTimeout: 60_000,
  },
});
