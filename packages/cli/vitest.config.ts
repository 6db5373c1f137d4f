import { defineConfig } from 'vitest/config';
import { asBuilt, COMMON } from '../../vitest.common.js';

export default defineConfig({
  plugins: [asBuilt(import.meta.dirname)],
  test: {
    ...COMMON,
    globalSetup: ['../core/src/seed.global.ts'],
    // What whoever runs the tests keeps for themselves has no part in them.
    env: { XDG_CONFIG_HOME: '/nowhere', XDG_CACHE_HOME: '/nowhere' },
  },
});
