import { afterAll, beforeAll, expect, test } from 'vitest';
import { readPackageRecord, readWorkspace, type PackageRecord } from '@deep-ledger/core';
import type { Material } from '../workspaces/snapshot.js';
import { BaseThread } from './base-thread.js';

const PACKAGES = 40;
const PROJECTS = 25;

/** Enough findings with remedies that clearing everything takes some seconds. */
function material(): Material {
  const projects = Array.from({ length: PROJECTS }, (_, i): [string, string] => {
    const needs = Array.from(
      { length: PACKAGES },
      (_, k) => `pack-${k} = "${(i + k) % 3 === 0 ? '^1.0.0' : '~1.1.0'}"\n`,
    );
    return [`apps/p${i}/ledger.project.toml`, `name = "p${i}"\n[needs]\n${needs.join('')}`];
  });
  const files = new Map([
    ['ledger.toml', 'format = 1\nname = "wide"\nprojects = ["apps/*"]\nregistry = "main"\n'],
    ...projects,
  ]);
  const records = new Map(
    Array.from({ length: PACKAGES }, (_, k): [string, PackageRecord] => {
      const name = `pack-${k}`;
      const release = (version: string) => ({
        version,
        published: '2024-01-01T00:00:00Z',
        archive: {
          path: `/archives/${name}/${version}`,
          integrity: `sha512-${'A'.repeat(86)}==`,
          bytes: 1,
        },
      });
      const reading = readPackageRecord({
        name,
        releases: ['1.0.0', '1.1.0', '1.2.0'].map(release),
      });
      if (!reading.ok) throw new Error('the document cannot be read');
      return [name, reading.record];
    }),
  );
  const reading = readWorkspace(files);
  return {
    point: 'c1',
    unwritten: new Set(),
    commit: 'c',
    files,
    records,
    reading,
    today: '2025-06-01',
    registry: { records, state: 'up', messages: [], unknown: [], fingerprint: '' },
  };
}

let thread: BaseThread;
const subject = { material: material(), use: null };
const never = new AbortController().signal;

beforeAll(() => {
  thread = new BaseThread();
});
afterAll(() => thread.onModuleDestroy());

const ask = (signal = never) =>
  thread.ask<'draft'>(subject, { kind: 'draft', edits: [] }, signal, () => undefined);

test('the thread is sent what it lacks, and keeps it', async () => {
  const first = await ask();
  expect(first).toMatchObject({ kind: 'settled', outcome: { kind: 'answered' } });
  expect(await ask()).toEqual(first);
  const next = { material: { ...subject.material, commit: 'd' }, use: null };
  const question = { kind: 'draft', edits: [] } as const;
  expect(await thread.ask<'draft'>(next, question, never, () => undefined)).toEqual(first);
});

test('work that is stopped ends at once, and the thread answers what comes next', async () => {
  const stop = new AbortController();
  const told: number[] = [];
  const clearing = thread.ask<'clearing'>(
    subject,
    { kind: 'clearing', ticked: [] },
    stop.signal,
    (done) => {
      told.push(done);
      stop.abort(new Error('stopped by somebody'));
    },
  );
  await expect(clearing).rejects.toThrow('stopped by somebody');
  expect(told.length).toBeGreaterThan(0);
  expect(await ask()).toMatchObject({ kind: 'settled' });
});
