import { expect, test } from 'vitest';
import { readLock } from '../lock/index.js';
import { recordsOf } from '../resolve/world.arbitrary.js';
import { LOCK_FILE } from '../workspace/index.js';
import { draftBase } from './draft-base.js';
import { evaluateDraft, type Evaluation } from './evaluate-draft.js';

const DAY = '2026-11-01';
const RECORDS = recordsOf({
  log: {
    '1.0.0': { needs: { rope: '^1.0.0' } },
    '1.1.0': { needs: { rope: '^1.0.0' } },
    '2.0.0': {},
  },
  rope: { '1.0.0': {}, '1.2.0': {}, '1.3.0': {} },
  mast: { '1.0.0': {}, '1.4.0': {} },
  buoy: { '1.0.0': {} },
});
const FROZEN = [
  { name: 'log', at: '1.0.0' },
  { name: 'rope', at: '1.2.0' },
  { name: 'mast', at: '0.9.0' },
  { name: 'buoy', at: '1.0.0' },
];
const SHAPES = `format = 1
[[manifest]]
files = ["*/app.json"]
syntax = "json"
[[manifest.requirements]]
at = "$.parts"
[[adopt]]
file = "frozen.json"
syntax = "json"
items = "$.set[*]"
package = "$.name"
version = "$.at"
`;

function evaluated(files: Readonly<Record<string, string>>): Evaluation & { kind: 'answered' } {
  const base = draftBase(
    new Map(
      Object.entries({
        'ledger.toml': 'format = 1\nname = "w"\nprojects = []\nregistry = "main"\n',
        'ledger.shapes.toml': SHAPES,
        'gate/app.json': '{ "parts": { "log": "^1.0.0", "mast": "^1.0.0" } }',
        'frozen.json': JSON.stringify({ set: FROZEN }),
        ...files,
      }),
    ),
    RECORDS,
    DAY,
    undefined,
    undefined,
    null,
    new Set(['ledger.toml', 'ledger.shapes.toml']),
  );
  const evaluation = evaluateDraft(base, []);
  if (evaluation.kind !== 'answered') throw new Error(evaluation.kind);
  return evaluation;
}

function copiesIn({ changes }: { readonly changes: Evaluated['changes'] }): readonly string[] {
  const lock = readLock(changes.find(({ path }) => path === LOCK_FILE)!.after);
  if (lock.kind !== 'read') throw new Error(lock.kind);
  return lock.resolution.copies.map(({ name, version }) => `${name} ${version}`);
}
type Evaluated = ReturnType<typeof evaluated>;

test('a first lockfile starts from what is installed, all the way down, and says what it changed and why', () => {
  const evaluation = evaluated({});
  expect(copiesIn(evaluation)).toEqual(['log 1.0.0', 'mast 1.4.0', 'rope 1.2.0']);
  expect(evaluation.consequences.adopted).toEqual({
    kept: 2,
    changed: [
      {
        name: 'mast',
        from: '0.9.0',
        to: ['1.4.0'],
        why: 'The registry has no release 0.9.0 of it.',
      },
      { name: 'buoy', from: '1.0.0', to: [], why: 'Nothing requires it.' },
    ],
  });
});

test('a version that a range does not allow gives way, and the range is named', () => {
  const { consequences } = evaluated({
    'gate/app.json': '{ "parts": { "log": "^2.0.0", "rope": ">=1.3.0" } }',
  });
  expect(consequences.adopted!.changed.slice(0, 2)).toEqual([
    { name: 'log', from: '1.0.0', to: ['2.0.0'], why: 'gate requires ^2.0.0.' },
    { name: 'rope', from: '1.2.0', to: ['1.3.0'], why: 'gate requires >=1.3.0.' },
  ]);
});

test('what is installed counts no more once there is a lockfile', () => {
  const first = evaluated({});
  const lock = first.changes.find(({ path }) => path === LOCK_FILE)!.after;
  const second = evaluated({ [LOCK_FILE]: lock, 'frozen.json': '{ "set": [] }' });
  expect(second.consequences.adopted).toBeNull();
  expect(second.changes.map(({ path }) => path)).toEqual(['ledger.shapes.toml', 'ledger.toml']);
});

test('files that the repository does not have yet are added by every draft', () => {
  expect(evaluated({}).changes.map(({ path, before }) => [path, before])).toEqual([
    ['ledger.shapes.toml', null],
    ['ledger.toml', null],
    ['ledger.lock', null],
  ]);
});
