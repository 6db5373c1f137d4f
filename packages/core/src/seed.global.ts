import type { TestProject } from 'vitest/node';

declare module 'vitest' {
  interface ProvidedContext {
    seed: number;
    runs: number;
  }
}

const USUAL_RUNS = 300;

/**
 * Chooses the seed of a run and how often each random property is tried, and says both. The seed is that of the
 * day, so that a run that is green stays so until the next day tries other worlds.
 */
export default function chooseSeed(project: TestProject): void {
  const today = new Date().toISOString().slice(0, 10).replaceAll('-', '');
  const seed = Number(process.env['SEED'] ?? today);
  const runs = Number(process.env['RUNS'] ?? USUAL_RUNS);
  process.stdout.write(`seed of the random tests: ${seed}, each ${runs} times\n`);
  project.provide('seed', seed);
  project.provide('runs', runs);
}
