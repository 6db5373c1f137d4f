import { defineConfig } from 'vitest/config';

const GROWTH = 'src/growth.test.ts';

export default defineConfig({
  test: {
    environment: 'node',
    // One process for all files: none keeps anything for itself, and loading the program takes long.
    isolate: false,
    // Random worlds are thrown away at once: with more room for what is new, a sixth less time goes into clearing it away.
    execArgv: ['--max-semi-space-size=128'],
    // Far more than any takes, also on a machine that others use; random properties that are tried more often take longer.
    testTimeout: 300_000 * Math.max(1, Number(process.env['RUNS'] ?? 0) / 300),
    hookTimeout: 300_000,
    projects: [
      {
        extends: true,
        test: {
          name: 'laws',
          include: ['src/**/*.test.ts'],
          exclude: [GROWTH],
          globalSetup: ['src/seed.global.ts'],
          setupFiles: ['src/seed.setup.ts'],
        },
      },
      // Steps are counted from when the program is read.
      { extends: true, test: { name: 'growth', include: [GROWTH] } },
    ],
  },
});
