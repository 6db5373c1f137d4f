import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts'],
    environment: 'node',
    // Few processes for all files: none keeps anything for itself, and loading the program takes long. They mostly wait.
    isolate: false,
    maxWorkers: 2,
    globalSetup: ['../core/src/seed.global.ts', 'src/test/beginning.global.ts'],
    // Far more than any takes, also on a machine that others use; random properties that are tried more often take longer.
    testTimeout: 300_000 * Math.max(1, Number(process.env['RUNS'] ?? 0) / 300),
    hookTimeout: 300_000,
  },
});
