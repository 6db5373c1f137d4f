import { randomUUID } from 'node:crypto';
import type { TestProject } from 'vitest/node';
import { administer } from './administer.js';

declare module 'vitest' {
  interface ProvidedContext {
    beginning: string;
  }
}

/** Names the database that those of all tests are copies of, and takes it away at the end. */
export default function nameBeginning(project: TestProject): () => Promise<void> {
  const name = `test_beginning_${randomUUID().replaceAll('-', '')}`;
  project.provide('beginning', name);
  return () => administer(`DROP DATABASE IF EXISTS ${name}`);
}
