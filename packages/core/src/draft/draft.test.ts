import { describe, expect, test } from 'vitest';
import { checkLock, printLock } from '../lock/index.js';
import { resolve } from '../resolve/index.js';
import { filesOf, recordsOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { copyDemands, isShared } from '../alignment/index.js';
import { LOCK_FILE, readWorkspace } from '../workspace/index.js';
import { draftBase, type DraftBase } from './draft-base.js';
import { evaluateDraft, type Evaluation } from './evaluate-draft.js';
import { fileDiff } from './file-diff.js';
import {
  describeEdit,
  draftMessage,
  CLEAR_EVERYTHING,
  editsWithoutLevel,
  leftOutWords,
  levelEdits,
  rangeLike,
  type Edit,
} from '../edit/index.js';
import { Leveller } from './leveller.js';
import type { Candidate } from './rank-candidates.js';

const DAY = '2025-01-01';
const REGISTRY = {
  log: {
    '1.0.0': {},
    '1.2.0': {},
    '2.0.0': { needs: { json: '^1.0.0' } },
    '2.1.0': { needs: { json: '^1.0.0' } },
    '3.0.0': { platform: { runtime: '>=22' } },
  },
  json: { '1.0.0': {} },
  boot: { '1.0.0': { needs: { log: '^1.0.0 || ^2.0.0' } } },
};
const FILES = filesOf(
  {
    web: { log: '^2.0.0' },
    kit: { log: '~1.0.0', boot: '*' },
    kiosk: { log: '1.0.0' },
    desk: { log: 'shared' },
  },
  {
    'ledger.shared.toml': `format = 1
[shared]
log = "^1.0.0"   # agreed in May
[[exceptions]]
project = "kiosk"
package = "log"
range = "1.0.0"
reason = "old image"
owner = "kiosk crew"
until = 2027-01-01
`,
  },
);

function base(): DraftBase {
  const records = recordsOf(REGISTRY);
  const outcome = resolve({ workspace: workspaceOf(FILES), records, asOf: DAY, before: null });
  if (outcome.kind !== 'answered') throw new Error(outcome.kind);
  return draftBase(new Map(FILES).set(LOCK_FILE, printLock(outcome.resolution)), records, DAY);
}

function answered(evaluation: Evaluation): Extract<Evaluation, { kind: 'answered' }> {
  if (evaluation.kind !== 'answered') throw new Error(JSON.stringify(evaluation));
  return evaluation;
}

test('Alignment’s row counts who is out of line and who is excepted', () => {
  const { rows, workspace, lock } = base();
  expect(
    rows.filter(isShared).map(({ name, off, copies, exceptions, usedBy, agreed }) => ({
      name,
      off,
      copies,
      exceptions,
      usedBy,
      agreed,
    })),
  ).toEqual([{ name: 'log', off: 2, copies: 2, exceptions: 1, usedBy: 4, agreed: '^1.0.0' }]);
  expect(rows[0]!.marks).toEqual([
    { version: '1.0.0', inLine: 2, off: 1 },
    { version: '2.1.0', inLine: 0, off: 1 },
  ]);
  expect(rows[0]!.reaches.map(({ range, span }) => [range, span])).toEqual([
    ['1.0.0', [0, 0]],
    ['^1.0.0', [0, 1]],
    ['^2.0.0', [2, 3]],
    ['~1.0.0', [0, 0]],
  ]);
  expect(copyDemands(lock!.resolution, 'log')).toEqual([
    {
      owner: { name: 'boot', version: '1.0.0' },
      range: '^1.0.0 || ^2.0.0',
      asked: null,
      answer: '2.1.0',
    },
  ]);
  expect(workspace!.projects).toHaveLength(4);
});

test('levelling sets the shared version and lets all but the excepted take it', () => {
  const start = base();
  const edits = levelEdits(start.workspace!, 'log', '2.1.0', DAY);
  expect(edits).toEqual([
    { kind: 'level', package: 'log', range: '^2.1.0', projects: ['kit', 'web'] },
  ]);
  const { changes, consequences, resolution } = answered(evaluateDraft(start, edits));
  expect(changes.map(({ path }) => path)).toEqual([
    'kit/ledger.project.toml',
    'ledger.shared.toml',
    'web/ledger.project.toml',
    'ledger.lock',
  ]);
  expect(changes[1]!.after).toBe(
    FILES.get('ledger.shared.toml')!.replace('"^1.0.0"   #', '"^2.1.0"   #'),
  );
  expect(consequences).toMatchObject({ outOfLine: [1, 0], manifests: 3, lockBefore: 'consistent' });
  expect(resolution.copies.map(({ name, version }) => `${name} ${version}`)).toEqual([
    'boot 1.0.0',
    'json 1.0.0',
    'log 1.0.0',
    'log 2.1.0',
  ]);
  const files = new Map(start.files);
  for (const { path, after } of changes) files.set(path, after);
  expect(checkLock(readWorkspace(files).workspace!, files).state).toBe('consistent');
});

test('a draft without edits changes nothing', () => {
  expect(answered(evaluateDraft(base(), [])).changes).toEqual([]);
});

test('evaluating leaves its base alone and gives the same each time', () => {
  const start = base();
  const before = JSON.stringify([...start.files]);
  const edits = levelEdits(start.workspace!, 'log', '2.0.0', DAY);
  expect(evaluateDraft(start, edits)).toEqual(evaluateDraft(base(), edits));
  expect(JSON.stringify([...start.files])).toBe(before);
});

test('copies under licences that the policy does not allow are named', () => {
  const start = base();
  const allow = (value: string): Edit => ({
    kind: 'set-policy',
    package: null,
    setting: 'licences',
    value,
  });
  const refused = (edits: readonly Edit[]) =>
    answered(evaluateDraft(start, edits)).consequences.refusedLicences;
  expect(refused([])).toEqual([0, []]);
  expect(refused([allow('MIT')])[1][0]).toEqual({ name: 'boot', version: '1.0.0', licence: null });
  expect(refused([allow('MIT')])[1]).toHaveLength(4);
  expect(refused([allow('MIT'), allow('')])).toEqual([0, []]);
});

test('a draft that nothing answers says why', () => {
  const evaluation = evaluateDraft(base(), levelEdits(base().workspace!, 'log', '3.0.0', DAY));
  if (evaluation.kind !== 'unanswered') throw new Error(evaluation.kind);
  expect(evaluation.unanswered.flatMap(({ sentences }) => sentences).join(' ')).toMatch(
    /log 3\.0\.0 asks for runtime >=22; the workspace's platform offers 20\.0\.0\./,
  );
  expect(evaluation.unanswered).toHaveLength(1);
  expect(evaluation.unanswered[0]!.sentences[1]).toBe('2 more requirements ask for the same.');
  expect(evaluation.changes.map(({ path }) => path)).toContain('ledger.shared.toml');
});

describe('an edit that no longer applies is named, the others are not', () => {
  const good: Edit = { kind: 'set-shared', package: 'log', range: '^2.0.0' };
  test.each<[Edit, string]>([
    [{ kind: 'set-shared', package: 'log', range: '^2.0.0,' }, 'EDIT_RANGE_INVALID'],
    [{ kind: 'take-shared', package: 'json', projects: ['web'] }, 'EDIT_NOT_AGREED'],
    [{ kind: 'take-shared', package: 'log', projects: ['gone'] }, 'EDIT_PROJECT_UNKNOWN'],
    [{ kind: 'take-shared', package: 'boot', projects: ['web'] }, 'EDIT_NOT_AGREED'],
  ])('%j', (edit, code) => {
    const evaluation = evaluateDraft(base(), [good, edit]);
    if (evaluation.kind !== 'inapplicable') throw new Error(evaluation.kind);
    expect(evaluation.problems.map((problem) => problem?.code ?? null)).toEqual([null, code]);
  });
});

test('a workspace whose files cannot be read gives the places', () => {
  const files = new Map(FILES).set('web/ledger.project.toml', 'name = ');
  const evaluation = evaluateDraft(draftBase(files, recordsOf(REGISTRY), DAY), []);
  if (evaluation.kind !== 'unreadable') throw new Error(evaluation.kind);
  expect(evaluation.problems[0]).toMatchObject({
    code: 'SYNTAX',
    place: { file: 'web/ledger.project.toml', line: 1 },
  });
});

test('a broken lockfile is resolved from nothing, and the draft says so', () => {
  const start = draftBase(new Map(FILES).set(LOCK_FILE, 'garbage'), recordsOf(REGISTRY), DAY);
  expect(answered(evaluateDraft(start, [])).consequences).toMatchObject({
    lockBefore: 'broken',
    copies: [null, 4],
  });
});

function ranked(start: DraftBase): readonly Candidate[] {
  const leveller = new Leveller(start, [], 'log');
  return leveller.rank(leveller.versions().map((version) => leveller.preview(version)!));
}

test('candidates tell what each version would cost, and why it is worth a look', () => {
  expect(
    ranked(base()).map(
      ({ version, range, allowedBy, files, result, reasons, isNewest, isAgreed }) => [
        version,
        range,
        allowedBy.length,
        files,
        result.kind === 'answered' ? result.copies : 'none',
        reasons,
        isNewest,
        isAgreed,
      ],
    ),
  ).toEqual([
    ['2.1.0', '^2.1.0', 1, 3, 2, ['newest', 'fewest copies'], false, false],
    ['1.0.0', '^1.0.0', 3, 2, 2, ['fewest copies', 'fewest files'], false, true],
    ['2.0.0', '^2.0.0', 1, 3, 2, ['fewest copies'], false, false],
    ['1.2.0', '^1.2.0', 1, 3, 3, [], false, false],
    ['3.0.0', '^3.0.0', 0, 3, 'none', [], true, false],
  ]);
});

test.each([
  ['the newest that resolves', {}, '2.1.0'],
  ['not a deprecated one', { '2.1.0': { deprecated: 'old' } }, '2.0.0'],
  ['not a major that nobody is at', { '4.0.0': {} }, '2.1.0'],
])('to begin with is suggested %s', (_, more, version) => {
  const records = recordsOf({ ...REGISTRY, log: { ...REGISTRY.log, ...more } });
  expect(ranked(draftBase(base().files, records, DAY))[0]!.version).toBe(version);
});

test.each([
  [null, '^2.0.0'],
  ['^1.0.0', '^2.0.0'],
  ['~1.0.0', '~2.0.0'],
  ['1.0.0', '2.0.0'],
  ['>=1.0.0 <3.0.0', '^2.0.0'],
  ['1.0.0 || 2.0.0', '^2.0.0'],
])('where %s is agreed, 2.0.0 becomes %s', (agreed, range) => {
  expect(rangeLike(agreed, '2.0.0')).toBe(range);
});

test('edits are told in words, and make the commit’s message', () => {
  const { workspace } = base();
  const edits = levelEdits(workspace!, 'log', '2.1.0', DAY);
  expect(describeEdit(workspace, edits[0]!)).toMatchObject({
    subject: 'log',
    verb: 'levelled',
    from: '^1.0.0',
    to: '^2.1.0',
  });
  expect(draftMessage(workspace, edits)).toBe(
    'Level log at ^2.1.0\n\n- log: levelled ^1.0.0 -> ^2.1.0 (in kit, web)\n',
  );
  expect(draftMessage(workspace, edits, CLEAR_EVERYTHING)).toMatch(
    /^Clear everything: level log at \^2\.1\.0\n/,
  );
  expect(editsWithoutLevel(edits, 'log')).toEqual([]);
});

test.each<[string, readonly Edit[]]>([
  ['Agree on json *', [{ kind: 'set-shared', package: 'json', range: '*' }]],
  [
    'Level log, json',
    [
      { kind: 'level', package: 'log', range: '^2.1.0', projects: ['web'] },
      { kind: 'set-shared', package: 'json', range: '*' },
    ],
  ],
  [
    'Level 4 packages, re-resolve boot, remove 3 requirements, mute one finding',
    [
      ...['a', 'b', 'c', 'd'].map((name): Edit => ({
        kind: 'take-shared',
        package: name,
        projects: ['web'],
      })),
      { kind: 'remove-requirement', package: 'json', projects: ['web', 'kit'] },
      { kind: 'remove-requirement', package: 'boot', projects: ['web'] },
      { kind: 'refresh', packages: ['boot'] },
      { kind: 'mute', finding: 'x', reason: 'r', owner: 'o', until: '2027-01-01' },
    ],
  ],
  [
    'Change 2 policies',
    ['one', 'any'].map((value): Edit => ({
      kind: 'set-policy',
      package: null,
      setting: 'copies',
      value,
    })),
  ],
])('the commit’s title says what is done: %s', (title, edits) => {
  expect(draftMessage(base().workspace, edits).split('\n')[0]).toBe(title);
});

test('a project that one decision no longer fits is left out alone, and named', () => {
  const start = base();
  const edit: Edit = {
    kind: 'level',
    package: 'log',
    range: '^2.1.0',
    projects: ['boot-room', 'kit', 'web'],
  };
  const { changes } = answered(evaluateDraft(start, [edit]));
  expect(changes.map(({ path }) => path)).toContain('web/ledger.project.toml');
  expect(leftOutWords(start.workspace, edit)).toBe(
    'Left out: boot-room, which does not write it any more.',
  );
  expect(leftOutWords(start.workspace, { ...edit, projects: ['kit', 'web'] })).toBeNull();
});

test('a diff shows the changed lines with their numbers and three lines around', () => {
  const before = Array.from({ length: 20 }, (_, i) => `line ${i + 1}\n`).join('');
  const diff = fileDiff('f', before, before.replace('line 10\n', 'line ten\n'));
  expect(diff).toMatchObject({ path: 'f', isNew: false, added: 1, removed: 1 });
  expect(diff.hunks).toHaveLength(1);
  expect(diff.hunks[0]!.map(({ mark, before: a, after: b }) => [mark, a, b])).toEqual([
    ['same', 7, 7],
    ['same', 8, 8],
    ['same', 9, 9],
    ['removed', 10, null],
    ['added', null, 10],
    ['same', 11, 11],
    ['same', 12, 12],
    ['same', 13, 13],
  ]);
  expect(fileDiff('n', null, 'a\nb\n')).toMatchObject({ isNew: true, added: 2, removed: 0 });
});
