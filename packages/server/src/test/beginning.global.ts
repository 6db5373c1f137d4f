import { randomUUID } from 'node:crypto';
import type { TestProject } from 'vitest/node';
import { administer } from './administer.js';

declare module 'vitest' {
  interface ProvidedContext {
    beginning: string;
  }
}

/** Names the databases that those of all tests are copies of, one for each process of tests, and takes them away at the end. */
export default function nameBeginnings(project: TestProject): () => Promise<void> {
  const name = `test_beginning_${randomUUID().replaceAll('-', '')}`;
  project.provide('beginning', name);
  return async () => {
    const made = await administer(
      'SELECT datname FROM pg_database WHERE starts_with(datname, $1)',
      [name],
    );
    for (const { datname } of made) await administer(`DROP DATABASE ${datname as string}`);
  };
}
