import fc from 'fast-check';
import { inject } from 'vitest';

/*
 * One seed for all random tests of a run, printed so that a run can be made again: `SEED=123 RUNS=5000 npx vitest run`.
 */
fc.configureGlobal({ seed: inject('seed'), numRuns: inject('runs') });
