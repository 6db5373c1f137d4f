import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';
import { COMMON } from '../../vitest.common.js';

export default defineConfig({
  plugins: [react()],
  test: {
    ...COMMON,
    environment: 'jsdom',
    setupFiles: ['src/test/leave-no-trace.setup.ts'],
  },
});
