import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Edit } from '../edit/index.js';
import { mergeFile } from '../merge/index.js';
import { filesOf } from '../resolve/world.arbitrary.js';
import { SPELLINGS } from '../workspace/spellings.arbitrary.js';
import {
  PROJECT_FILE,
  readWorkspace,
  SHARED_FILE,
  shapesIn,
  unitsOfFile,
  type WorkspaceFiles,
} from '../workspace/index.js';
import { applyEdit } from './apply-edit.js';
import { changedUnits } from './changed-units.js';
import { reversalOf } from './reversal.js';

/* Whatever edits are made to our own files can be taken back, and merged with whatever others were made. */

const SHARED = `format = 1

[shared]
log = "^1.0.0"     # agreed in May
queue = "^2.0.0"

[lockstep.grid]
range = "4.1.0"
packages = ["grid-core", "grid-form"]

[everywhere]
lint = { range = "^1.0.0", kind = "dev" }

[pins]
json = "1.3.1"     # 1.4 is slow

[[exceptions]]
project = "desk"
package = "log"
range = "^0.9.0"
reason = "old image"
owner = "desk crew"
until = 2027-01-01

[[muted]]
finding = "unused desk bench"
reason = "looked into"
owner = "desk crew"
until = 2027-01-01
`;
const DESK = `name = "desk"
[needs]
log = "^0.9.0"
queue = "shared"
[needs.dev]
bench = "^3.0.0"
`;
const FILES: WorkspaceFiles = filesOf(
  {
    web: { log: 'shared', 'grid-core': 'shared', json: '^1.0.0' },
  },
  { [SHARED_FILE]: SHARED, [`desk/${PROJECT_FILE}`]: DESK },
);

const granted = { range: '^0.8.0', reason: 'r', owner: 'o', until: '2027-02-01' };
const EDITS: readonly Edit[] = [
  { kind: 'set-shared', package: 'log', range: '^1.1.0' },
  { kind: 'set-shared', package: 'json', range: '^1.0.0' },
  { kind: 'set-shared', package: 'grid-core', range: '4.2.0' },
  { kind: 'level', package: 'json', range: '^1.3.0', projects: ['web'] },
  { kind: 'take-shared', package: 'log', projects: ['desk'] },
  { kind: 'retire-shared', package: 'queue' },
  { kind: 'set-range', package: 'json', range: '^1.2.0', projects: ['web'] },
  { kind: 'set-range', package: 'log', range: '1.0.0', projects: ['web'] },
  { kind: 'add-requirement', package: 'neve', range: '^1.0.0', as: 'runtime', projects: ['web'] },
  { kind: 'add-requirement', package: 'neve', range: '^2.0.0', as: 'dev', projects: ['desk'] },
  { kind: 'add-requirement', package: 'arete', range: '*', as: 'optional', projects: ['desk'] },
  { kind: 'remove-requirement', package: 'bench', projects: ['desk'] },
  { kind: 'remove-requirement', package: 'grid-core', projects: ['web'] },
  { kind: 'change-kind', package: 'json', as: 'dev', projects: ['web'] },
  { kind: 'change-kind', package: 'bench', as: 'runtime', projects: ['desk'] },
  { kind: 'make-set', set: 'ice', range: '1.0.0', packages: ['firn', 'floe'] },
  { kind: 'make-set', set: 'grid', range: '4.1.0', packages: ['grid-core', 'grid-page'] },
  { kind: 'dissolve-set', set: 'grid' },
  { kind: 'everywhere', package: 'lint', range: '^2.0.0', as: 'dev', except: ['web'] },
  { kind: 'everywhere', package: 'types', range: '^1.0.0', as: 'dev', except: [] },
  { kind: 'not-everywhere', package: 'lint' },
  { kind: 'pin', package: 'log', version: '1.0.3' },
  { kind: 'pin', package: 'json', version: '1.3.2', except: ['web'] },
  { kind: 'unpin', package: 'json' },
  { kind: 'grant-exception', project: 'web', package: 'log', ...granted },
  { kind: 'grant-exception', project: 'desk', package: 'log', ...granted },
  { kind: 'end-exception', package: 'log', project: 'desk' },
  { kind: 'answer-otherwise', of: 'json', package: 'log', ...granted },
  { kind: 'mute', finding: 'unused web json', reason: 'r', owner: 'o', until: '2027-01-01' },
  { kind: 'mute', finding: 'unused desk bench', reason: 's', owner: 'o', until: '2027-03-01' },
  { kind: 'unmute', finding: 'unused desk bench' },
  { kind: 'set-policy', package: null, setting: 'copies', value: 'one' },
  { kind: 'set-policy', package: 'log', setting: 'minimum-age-days', value: '7' },
  { kind: 'set-policy', package: null, setting: 'licences', value: 'MIT, ISC' },
  { kind: 'set-platform', name: 'runtime', version: '22.0.0' },
  {
    kind: 'set-standing',
    ...{ name: 'weekly', every: 'monday', take: 'patch', olderThanDays: 3, to: 'draft' },
    ...{ packages: ['log'], except: [] },
  },
  {
    kind: 'set-standing',
    ...{ name: 'daily', every: '0 4 * * *', take: 'minor', olderThanDays: 0, to: 'branch' },
    ...{ packages: [], except: ['json'] },
  },
  {
    kind: 'accept-terms',
    id: 't',
    title: 'T',
    url: 'https://x.example/t',
    by: 'o',
    on: '2026-01-01',
  },
  {
    kind: 'accept-terms',
    id: 'u',
    title: 'U',
    url: 'https://x.example/u',
    by: 'o',
    on: '2026-01-01',
  },
  { kind: 'believe-use', package: 'bench', project: 'desk' },
];

/** With those of some edits that can be made. */
function after(edits: readonly Edit[], start = FILES): WorkspaceFiles {
  let files = start;
  let reading = readWorkspace(start);
  for (const edit of edits) {
    const outcome = applyEdit(reading.workspace!, files, edit);
    if (!outcome.ok) continue;
    files = outcome.files;
    reading = readWorkspace(files, reading);
  }
  return files;
}

const anyEdits = fc.uniqueArray(fc.constantFrom(...EDITS), { minLength: 1, maxLength: 4 });

test('each edit can be made here', () => {
  for (const edit of EDITS)
    expect([edit, changedUnits(FILES, after([edit]))]).not.toEqual([edit, []]);
});

/** What three sets of units come to, one by one; null: one that both sides changed, each differently. */
function byUnits(base: Units, ours: Units, theirs: Units): Map<string, string> | null {
  const result = new Map<string, string>();
  for (const key of new Set([...ours.keys(), ...theirs.keys()])) {
    const [was, left, right] = [base, ours, theirs].map((units) => units.get(key));
    if (left !== right && left !== was && right !== was) return null;
    const value = left === was ? right : left;
    if (value !== undefined) result.set(key, value);
  }
  return result;
}

type Units = ReadonlyMap<string, string>;

describe.each(SPELLINGS)('in %s', (_, spell) => {
  const start = spell(FILES);

  test('what edits changed is as before once they are taken back', () => {
    fc.assert(
      fc.property(anyEdits, (edits) => {
        const now = after(edits, start);
        const commit = { commit: 'abcdef0', title: 'it' };
        const back = reversalOf(commit, start, now, { before: null, after: null });
        if (back === null) return;
        const outcome = applyEdit(readWorkspace(now).workspace!, now, back);
        if (!outcome.ok) throw new Error(outcome.problem.message);
        expect(changedUnits(start, outcome.files)).toEqual([]);
        expect(readWorkspace(outcome.files).problems).toEqual([]);
      }),
    );
  });

  test('what two people edited is merged thing by thing, in both directions alike', () => {
    const shapes = shapesIn(start);
    const unitsOf = (file: string, text: string): Units =>
      new Map(
        [...unitsOfFile(file, text, shapes)!].map(([key, { value }]) => [key, value] as const),
      );
    let merges = 0;
    fc.assert(
      fc.property(anyEdits, anyEdits, (one, other) => {
        const [left, right] = [after(one, start), after(other, start)];
        for (const [file, base] of start) {
          const [ours, theirs] = [left.get(file)!, right.get(file)!];
          if (ours === theirs || ours === base || theirs === base) continue;
          const merge = mergeFile(file, { base, ours, theirs }, shapes);
          expect(mergeFile(file, { base, ours: theirs, theirs: ours }, shapes).kind).toBe(
            merge.kind,
          );
          const [b, o, t] = [base, ours, theirs].map((text) => unitsOf(file, text));
          const wanted = byUnits(b!, o!, t!);
          if (merge.kind === 'conflicts') {
            expect(wanted).toBeNull();
            continue;
          }
          merges++;
          // Texts in a list are merged one by one.
          if (wanted !== null) expect(unitsOf(file, merge.text!)).toEqual(wanted);
        }
      }),
    );
    expect(merges).toBeGreaterThan(10);
  });
});
