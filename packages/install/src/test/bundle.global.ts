import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'rolldown';
import type { TestProject } from 'vitest/node';

declare module 'vitest' {
  interface ProvidedContext {
    /** The program of a process that tests start and kill, in one file: it is started very often. */
    killedProcess: string;
  }
}

export default async function bundle(project: TestProject): Promise<() => Promise<void>> {
  const folder = await mkdtemp(join(tmpdir(), 'killed-process-'));
  const file = join(folder, 'killed-process.mjs');
  await build({
    input: fileURLToPath(new URL('../../dist/test/killed-process.js', import.meta.url)),
    platform: 'node',
    // What is written in the older form finds its parts only where it lies.
    resolve: { mainFields: ['module', 'main'] },
    output: { file, format: 'esm', codeSplitting: false },
    logLevel: 'warn',
  });
  project.provide('killedProcess', file);
  return () => rm(folder, { recursive: true });
}
