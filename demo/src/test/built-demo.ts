import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { inject } from 'vitest';
import { readPackageRecord, type PackageRecord } from '@deep-ledger/core';
import type { PackageDocument } from '@deep-ledger/registry';
import { buildRepository } from '../build-repository.js';
import { expandPackage } from '../expand-package.js';
import { LIBRARY } from '../library.js';
import { PACKAGES } from '../packages.js';

export const SOURCES = fileURLToPath(new URL('../../repository', import.meta.url));

/** The registry's documents and the repository; whoever changes the repository clones it. */
export interface BuiltDemo {
  readonly documents: readonly PackageDocument[];
  readonly records: ReadonlyMap<string, PackageRecord>;
  /** The bare repository's folder. */
  readonly repository: string;
}

let built: Promise<BuiltDemo> | null = null;

/** The demo, built once for all tests. */
export function builtDemo(): Promise<BuiltDemo> {
  return (built ??= build());
}

async function build(): Promise<BuiltDemo> {
  const documents: PackageDocument[] = [];
  const records = new Map<string, PackageRecord>();
  for (const line of [...PACKAGES, ...LIBRARY]) {
    const document = await expandPackage(line);
    const reading = readPackageRecord(document);
    if (!reading.ok) throw new Error(reading.problem.message);
    documents.push(document);
    records.set(line.name, reading.record);
  }
  const repository = join(inject('built'), 'brindlepeak.git');
  await buildRepository(SOURCES, records, repository);
  return { documents, records, repository };
}
