import { expect, test } from 'vitest';
import type { Edit } from '../edit/index.js';
import { printLock, type OpenTerms } from '../lock/index.js';
import { resolve } from '../resolve/index.js';
import { filesOf, recordsOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { LOCK_FILE, SHARED_FILE, type WorkspaceFiles } from '../workspace/index.js';
import { draftBase, type DraftBase } from './draft-base.js';
import { evaluateDraft, type Evaluation } from './evaluate-draft.js';

const TODAY = '2025-01-01';
const TERMS = { id: 'maps-2', title: 'Terms for maps', url: 'https://maps.example/terms' };
const LATER = { ...TERMS, title: 'New terms for maps' };
const RECORDS = recordsOf({
  tide: { '1.0.0': {} },
  maps: { '1.0.0': { terms: TERMS }, '2.0.0': { terms: LATER } },
  chart: { '1.0.0': { needs: { maps: '^1.0.0' } } },
});
const ACCEPTANCE = { ...TERMS, by: 'Ada Fenn', on: TODAY };
const ACCEPT: Edit = { kind: 'accept-terms', ...ACCEPTANCE };

function add(name: string, range: string): Edit {
  return { kind: 'add-requirement', package: name, range, as: 'runtime', projects: ['quay'] };
}

/** A workspace with a lockfile that is consistent. */
function baseOf(needs: Readonly<Record<string, string>>, others = {}): DraftBase {
  const files = filesOf({ quay: needs }, others);
  const outcome = resolve({
    workspace: workspaceOf(files),
    records: RECORDS,
    asOf: TODAY,
    before: null,
  });
  if (outcome.kind !== 'answered') throw new Error('the start has no answer');
  return draftBase(new Map(files).set(LOCK_FILE, printLock(outcome.resolution)), RECORDS, TODAY);
}

function answered(
  base: DraftBase,
  edits: readonly Edit[],
): Extract<Evaluation, { kind: 'answered' }> {
  const evaluation = evaluateDraft(base, edits);
  if (evaluation.kind !== 'answered') throw new Error(evaluation.kind);
  return evaluation;
}

function open(base: DraftBase, edits: readonly Edit[]): readonly OpenTerms[] {
  return answered(base, edits).consequences.openTerms;
}

function after(base: DraftBase, edits: readonly Edit[]): WorkspaceFiles {
  return answered(base, edits).after.files;
}

test('a draft that brings a copy under terms says so, by whatever way the copy comes, until they are accepted', () => {
  const base = baseOf({ tide: '^1.0.0' });
  expect(open(base, [])).toEqual([]);
  const asked = [{ ...TERMS, copies: [{ name: 'maps', version: '1.0.0' }], earlier: null }];
  expect(open(base, [add('maps', '^1.0.0')])).toEqual(asked);
  expect(open(base, [add('chart', '^1.0.0')])).toEqual(asked);
  expect(open(base, [add('chart', '^1.0.0'), ACCEPT])).toEqual([]);
});

test('an acceptance is written into the shared file once, and what was accepted is not asked again', () => {
  const base = baseOf({ tide: '^1.0.0' });
  const files = after(base, [ACCEPT, ACCEPT]);
  expect(files.get(SHARED_FILE)).toContain(
    '[[accepted]]\nid = "maps-2"\ntitle = "Terms for maps"\nurl = "https://maps.example/terms"\nby = "Ada Fenn"\non = 2025-01-01\n',
  );
  expect(files.get(SHARED_FILE)!.split('[[accepted]]')).toHaveLength(2);
  const again = draftBase(files, RECORDS, TODAY);
  expect(again.workspace?.shared.accepted).toMatchObject([ACCEPTANCE]);
  expect(open(again, [add('maps', '^1.0.0')])).toEqual([]);
});

test('terms that changed since they were accepted are asked again, with what was accepted; the new line takes the place of the old', () => {
  const base = draftBase(after(baseOf({ maps: '^1.0.0' }), [ACCEPT]), RECORDS, TODAY);
  const upgrade: Edit = { kind: 'set-range', package: 'maps', range: '^2.0.0', projects: ['quay'] };
  expect(open(base, [upgrade])).toMatchObject([{ ...LATER, earlier: ACCEPTANCE }]);
  const anew: Edit = { ...ACCEPTANCE, ...LATER, kind: 'accept-terms' };
  expect(open(base, [upgrade, anew])).toEqual([]);
  expect(after(base, [upgrade, anew]).get(SHARED_FILE)).not.toContain('"Terms for maps"');
});

test('what stood in the lockfile before does not stand in a draft’s way', () => {
  const base = baseOf({ maps: '^1.0.0' });
  expect(open(base, [add('tide', '^1.0.0')])).toEqual([]);
});

test('an acceptance can be ended, and then the terms are asked again', () => {
  const base = draftBase(after(baseOf({ tide: '^1.0.0' }), [ACCEPT]), RECORDS, TODAY);
  const end: Edit = { kind: 'end-acceptance', id: 'maps-2' };
  expect(open(base, [end, add('maps', '^1.0.0')])).toMatchObject([TERMS]);
  expect(evaluateDraft(base, [end, end])).toMatchObject({
    kind: 'inapplicable',
    problems: [null, { code: 'EDIT_NOT_THERE' }],
  });
});

test('a line that lacks something is left out, with its place', () => {
  const base = draftBase(
    filesOf(
      { quay: {} },
      { [SHARED_FILE]: 'format = 1\n[[accepted]]\nid = "maps-2"\non = 2025-01-01\n' },
    ),
    RECORDS,
    TODAY,
  );
  expect(base.workspace?.shared.accepted).toEqual([]);
  expect(base.reading.problems.map(({ file, problem }) => [file, problem.code])).toEqual([
    [SHARED_FILE, 'KEY_MISSING'],
    [SHARED_FILE, 'KEY_MISSING'],
    [SHARED_FILE, 'KEY_MISSING'],
  ]);
});
