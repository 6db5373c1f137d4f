import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { printLock } from '../lock/index.js';
import { resolve, type Resolution } from '../resolve/index.js';
import {
  anyAnswerableWorld,
  filesOf,
  recordsOf,
  releasesOf,
  workspaceOf,
} from '../resolve/world.arbitrary.js';
import { SPELLINGS } from '../workspace/spellings.arbitrary.js';
import { LOCK_FILE, SHARED_FILE, type WorkspaceFiles } from '../workspace/index.js';
import { draftBase, type DraftBase } from './draft-base.js';
import { levelEdits, type Edit } from '../edit/index.js';
import { changedUnits } from './changed-units.js';
import { evaluateDraft } from './evaluate-draft.js';
import { reversalOf } from './reversal.js';

const DAY = '2025-01-01';

function posted(base: DraftBase, edits: readonly Edit[]): DraftBase | null {
  const evaluation = evaluateDraft(base, edits);
  if (evaluation.kind !== 'answered') return null;
  const files = new Map(base.files);
  for (const { path, after } of evaluation.changes) files.set(path, after);
  return draftBase(files, base.records, DAY);
}

function locked(files: WorkspaceFiles, records: DraftBase['records']): DraftBase | null {
  const outcome = resolve({ workspace: workspaceOf(files), records, asOf: DAY, before: null });
  if (outcome.kind !== 'answered') return null;
  return draftBase(new Map(files).set(LOCK_FILE, printLock(outcome.resolution)), records, DAY);
}

function takenBack(before: DraftBase, after: DraftBase): Edit | null {
  const locks = { before: before.lock!.resolution, after: after.lock!.resolution };
  return reversalOf({ commit: 'abcdef0', title: 'it' }, before.files, after.files, locks);
}

const told = (resolution: Resolution | null): readonly string[] =>
  resolution!.copies.map(({ name, version }) => `${name} ${version}`);

const RECORDS = recordsOf({
  log: { '1.0.0': {}, '1.1.0': { needs: { wire: '^1.0.0' } } },
  wire: { '1.0.0': {}, '1.1.0': {} },
});

describe.each(SPELLINGS)('in %s', (_, spell) => {
  test('a post that is taken back leaves manifests and copies as they were', () => {
    fc.assert(
      fc.property(anyAnswerableWorld, fc.nat(), fc.nat(), (world, pick, turn) => {
        const records = recordsOf(world.registry);
        const before = locked(spell(filesOf(world.projects)), records);
        const names = [
          ...new Set(Object.values(world.projects).flatMap((one) => Object.keys(one))),
        ];
        if (before === null || names.length === 0) return;
        const name = names.sort()[pick % names.length]!;
        const releases = releasesOf(records, name);
        const { text } = releases[turn % releases.length]!;
        const after = posted(before, levelEdits(before.workspace!, name, text, DAY));
        if (after === null) return;
        const edit = takenBack(before, after)!;
        const back = posted(after, [edit])!;
        const left = changedUnits(before.files, back.files);
        expect(left.filter(({ file }) => file !== SHARED_FILE)).toEqual([]);
        expect(back.workspace!.agreements.size).toBe(0);
        expect(told(back.lock!.resolution)).toEqual(told(before.lock!.resolution));
      }),
    );
  });

  test('answers that a refresh moved come back, those below them too', () => {
    const files = spell(filesOf({ web: { log: '^1.0.0' } }));
    const older = recordsOf({
      log: { '1.0.0': {} },
      wire: { '1.0.0': {} },
    });
    const before = draftBase(locked(files, older)!.files, RECORDS, DAY);
    const after = posted(before, [{ kind: 'refresh', packages: ['log'] }])!;
    expect(told(after.lock!.resolution)).toEqual(['log 1.1.0', 'wire 1.1.0']);
    const back = posted(after, [takenBack(before, after)!])!;
    expect(told(back.lock!.resolution)).toEqual(['log 1.0.0']);
    expect(takenBack(before, before)).toBeNull();
  });
});

test('what someone else has changed since is not overwritten', () => {
  const before = locked(filesOf({ web: { log: '1.0.0' }, desk: { log: '1.0.0' } }), RECORDS)!;
  const after = posted(before, [
    { kind: 'set-range', package: 'log', range: '^1.0.0', projects: ['web'] },
  ])!;
  const edit = takenBack(before, after)!;
  const later = posted(after, [
    { kind: 'set-range', package: 'log', range: '1.1.0', projects: ['web'] },
  ])!;
  const evaluation = evaluateDraft(later, [edit]);
  if (evaluation.kind !== 'inapplicable') throw new Error(evaluation.kind);
  expect(evaluation.problems[0]).toEqual({
    code: 'EDIT_OVERTAKEN',
    message:
      'needs log in web/ledger.project.toml has been changed since abcdef0. Take it back by hand there, and take this edit out.',
  });
  const elsewhere = posted(after, [
    { kind: 'set-range', package: 'log', range: '1.1.0', projects: ['desk'] },
  ])!;
  const back = posted(elsewhere, [edit])!;
  expect(told(back.lock!.resolution)).toEqual(['log 1.0.0', 'log 1.1.0', 'wire 1.1.0']);
});

test.each<readonly [list: string, made: Edit, ended: Edit]>([
  [
    'exception',
    {
      kind: 'grant-exception',
      ...{ project: 'web', package: 'log', range: '1.0.0', reason: 'r', owner: 'o' },
      until: '2026-01-01',
    },
    { kind: 'end-exception', package: 'log', project: 'web' },
  ],
  [
    'line of otherwise',
    {
      kind: 'answer-otherwise',
      ...{ of: 'log', package: 'wire', range: '*', reason: 'r', owner: 'o', until: '2026-01-01' },
    },
    { kind: 'end-otherwise', of: 'log', package: 'wire' },
  ],
  [
    'muted finding',
    { kind: 'mute', finding: 'unused web log', reason: 'r', owner: 'o', until: '2026-01-01' },
    { kind: 'unmute', finding: 'unused web log' },
  ],
  [
    'accepted term',
    { kind: 'accept-terms', id: 't', title: 'T', url: 'https://x.example/t', by: 'o', on: DAY },
    { kind: 'end-acceptance', id: 't' },
  ],
  [
    'standing order',
    {
      kind: 'set-standing',
      ...{ name: 'weekly', every: 'monday', take: 'patch', olderThanDays: 0 },
      ...{ packages: ['log'], except: [], to: 'draft' },
    },
    { kind: 'end-standing', name: 'weekly' },
  ],
])('the end of one %s of several is taken back', (_, made, ended) => {
  const other = JSON.parse(
    JSON.stringify(made)
      .replace('"web"', '"desk"')
      .replace('unused web', 'unused desk')
      .replace('"id":"t"', '"id":"u"')
      .replace('"weekly"', '"daily"')
      .replace('"of":"log"', '"of":"desk"'),
  ) as Edit;
  const start = locked(
    filesOf({ web: { log: '^1.0.0' }, desk: { log: '^1.0.0' } }),
    recordsOf({ log: { '1.0.0': { needs: { wire: '1.0.0' } } }, wire: { '1.0.0': {} } }),
  )!;
  const agreed: Edit = { kind: 'set-shared', package: 'log', range: '^1.0.0' };
  const before = posted(start, [agreed, made, other])!;
  const after = posted(before, [ended])!;
  expect(changedUnits(before.files, after.files)).not.toEqual([]);
  const back = posted(after, [takenBack(before, after)!])!;
  expect(changedUnits(before.files, back.files)).toEqual([]);
});

test('what has no place in the form in which a list is written now is refused', () => {
  const [line, other] = ['a', 'b'].map(
    (id) => `id = "${id}", title = "T", url = "https://x.example", by = "o", on = 2025-01-01`,
  );
  const files = (text: string): WorkspaceFiles =>
    filesOf({ web: { log: '^1.0.0' } }, { [SHARED_FILE]: `format = 1\n${text}` });
  const before = locked(files(`accepted = [{ ${line} }, { ${other} }]\n`), RECORDS)!;
  const after = locked(files(`accepted = [{ ${other} }]\n`), RECORDS)!;
  const evaluation = evaluateDraft(after, [takenBack(before, after)!]);
  if (evaluation.kind !== 'inapplicable') throw new Error(evaluation.kind);
  expect(evaluation.problems).toMatchObject([
    {
      code: 'EDIT_FILE_UNREADABLE',
      message: expect.stringMatching(
        /^accepted a in ledger.shared.toml is written in a form/,
      ) as string,
    },
  ]);
});
