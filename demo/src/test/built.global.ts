import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';

declare module 'vitest' {
  interface ProvidedContext {
    built: string;
  }
}

/** A folder for what is built once for all tests. */
export default async function makeFolder(project: TestProject): Promise<() => Promise<void>> {
  const folder = await mkdtemp(join(tmpdir(), 'demo-'));
  project.provide('built', folder);
  return () => rm(folder, { recursive: true, force: true });
}
