import { defineConfig } from 'vitest/config';
import { asBuilt, COMMON } from '../../vitest.common.js';

export default defineConfig({ plugins: [asBuilt(import.meta.dirname)], test: COMMON });
