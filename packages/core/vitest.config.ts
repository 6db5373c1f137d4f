import { defineConfig } from 'vitest/config';
import { asBuilt, COMMON } from '../../vitest.common.js';

const { include, ...ALIKE } = COMMON;
const GROWTH = 'src/growth.test.ts';

export default defineConfig({
  plugins: [asBuilt(import.meta.dirname)],
  test: {
    ...ALIKE,
    // Two, so that the longest step has its share of a machine on which others run beside it.
    maxWorkers: 2,
    projects: [
      {
        extends: true,
        test: {
          name: 'laws',
          include,
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
