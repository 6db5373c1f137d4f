import { expect, test } from 'vitest';
import { draftBase } from '../draft/index.js';
import { printLock } from '../lock/index.js';
import { resolve } from '../resolve/index.js';
import { filesOf, recordsOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { LOCK_FILE } from '../workspace/index.js';
import { registryNews } from './registry-news.js';

const BEFORE = {
  log: { '1.0.0': {} },
  old: { '1.0.0': {} },
  kit: { '1.0.0': { needs: { old: '*' } } },
};
const NOW = {
  log: {
    '1.0.0': {},
    '1.1.0': { published: '2025-01-01T08:00:00Z' },
    '1.1.1': { published: '2024-12-31T08:00:00Z' },
    '1.1.2': { published: '2024-12-31T09:00:00Z', withdrawn: true },
    '1.2.0': { published: '2025-01-02T08:00:00Z' },
  },
  old: { '1.0.0': { deprecated: 'use new' } },
  kit: { '1.0.0': { needs: { old: '*' }, withdrawn: true } },
  other: { '1.0.0': { published: '2025-01-01T08:00:00Z' } },
};

test('tells what came of what is in use, and what of it its registry no longer stands by, with who is answered by it', () => {
  const files = filesOf({ web: { log: '*', kit: '*' }, hut: { old: '*' } });
  const outcome = resolve({
    workspace: workspaceOf(files),
    records: recordsOf(BEFORE),
    asOf: '2025-01-01',
    before: null,
  });
  if (outcome.kind !== 'answered') throw new Error('no answer');
  const locked = new Map(files).set(LOCK_FILE, printLock(outcome.resolution));
  expect(registryNews(draftBase(locked, recordsOf(NOW), '2025-01-01'), 1)).toEqual({
    published: [
      { name: 'log', version: '1.1.0', published: '2025-01-01' },
      { name: 'log', version: '1.1.1', published: '2024-12-31' },
    ],
    left: [
      {
        name: 'kit',
        version: '1.0.0',
        why: 'withdrawn',
        says: null,
        projects: ['web'],
        copies: [],
      },
      {
        name: 'old',
        version: '1.0.0',
        why: 'deprecated',
        says: 'use new',
        projects: ['hut'],
        copies: ['kit 1.0.0'],
      },
    ],
  });
  const unlocked = draftBase(files, recordsOf(NOW), '2025-01-01');
  expect(registryNews(unlocked, 1)).toEqual({ published: [], left: [] });
});
