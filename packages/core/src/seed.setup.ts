import fc from 'fast-check';
import { inject } from 'vitest';

/*
 * One seed for all random tests of a run, printed so that a run can be made again: `SEED=123 npx vitest run`.
 */
const seed = inject('seed');
fc.configureGlobal({ seed });
