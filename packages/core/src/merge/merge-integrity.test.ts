import { expect, test } from 'vitest';
import { printLock, touchedDisputes } from '../lock/index.js';
import { resolve, type Resolution } from '../resolve/index.js';
import { filesOf, recordsOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { LOCK_FILE, type WorkspaceFiles } from '../workspace/index.js';
import { mergeAnswers } from './merge-answers.js';
import { mergeWorkspaces } from './merge-workspaces.js';

function holding(integrity: string): Resolution {
  const copy = {
    name: 'json',
    version: '1.0.0',
    registry: 'main',
    archive: '/archives/json/1.0.0',
    integrity,
    targets: [],
    deprecated: null,
    requirements: [],
    peers: [],
  };
  return { projects: [], copies: [copy] };
}

test('a merge takes the side that changed an integrity, and both orders of the sides agree', () => {
  const values = ['sha512-a', 'sha512-b', 'sha512-c'];
  const triples = values.flatMap((b) => values.flatMap((o) => values.map((t) => [b, o, t])));
  for (const [b, o, t] of triples as [string, string, string][]) {
    const merged = mergeAnswers(holding(b), holding(o), holding(t)).copies[0]!.integrity;
    const swapped = mergeAnswers(holding(b), holding(t), holding(o)).copies[0]!.integrity;
    expect(swapped).toBe(merged);
    expect([o, t]).toContain(merged);
    if (o === b) expect(merged).toBe(t);
    if (t === b) expect(merged).toBe(o);
  }
});

test('a copy that their branch alone brings is in dispute too where the registry says another integrity', () => {
  const DAY = '2025-01-01';
  const LOCKED = `sha512-${'B'.repeat(86)}==`;
  const records = recordsOf({ log: { '1.0.0': {} }, json: { '1.0.0': {} } });
  const locked = (needs: Record<string, string>): readonly [WorkspaceFiles, Resolution] => {
    const files = filesOf({ web: needs });
    const outcome = resolve({ workspace: workspaceOf(files), records, asOf: DAY, before: null });
    if (outcome.kind !== 'answered') throw new Error(outcome.kind);
    return [files, outcome.resolution];
  };
  const [plain, ours] = locked({ log: '^1.0.0' });
  const [more, theirs] = locked({ log: '^1.0.0', json: '^1.0.0' });
  const copies = theirs.copies.map((copy) =>
    copy.name === 'json' ? { ...copy, integrity: LOCKED } : copy,
  );
  const base = new Map(plain).set(LOCK_FILE, printLock(ours));
  const merged = mergeWorkspaces({
    base,
    ours: base,
    theirs: new Map(more).set(LOCK_FILE, printLock({ ...theirs, copies })),
    records,
    asOf: DAY,
  });
  if (merged.kind !== 'merged') throw new Error(merged.kind);
  expect(merged.resolution.copies.find(({ name }) => name === 'json')!.integrity).toBe(LOCKED);
  expect(merged.disputed).toMatchObject([{ name: 'json', version: '1.0.0', locked: LOCKED }]);
  expect(touchedDisputes(merged.disputed, ours, merged.resolution)).toEqual(merged.disputed);
  expect(touchedDisputes(merged.disputed, merged.resolution, merged.resolution)).toEqual([]);
});
