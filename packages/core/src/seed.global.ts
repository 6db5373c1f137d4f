import type { TestProject } from 'vitest/node';

declare module 'vitest' {
  interface ProvidedContext {
    seed: number;
  }
}

/** Chooses the seed of a run and says it. */
export default function chooseSeed(project: TestProject): void {
  const seed = Number(process.env['SEED'] ?? Math.floor(Math.random() * 0x7fff_ffff));
  process.stdout.write(`seed of the random tests: ${seed}\n`);
  project.provide('seed', seed);
}
