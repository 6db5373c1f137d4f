import { expect, test } from 'vitest';
import { filesOf, recordsOf } from '../resolve/world.arbitrary.js';
import { draftBase } from './draft-base.js';
import { levelEdits, levelInUse, type Edit } from '../edit/index.js';
import { endOfAnswer } from './end-of-answer.js';
import { evaluateDraft } from './evaluate-draft.js';

const DAY = '2025-01-01';
const BASE = draftBase(
  filesOf(
    { web: { log: '^1.0.0' }, kit: { log: '~1.1.0' } },
    { 'ledger.shared.toml': 'format = 1\n[shared]\nlog = "^1.0.0"\n' },
  ),
  recordsOf({ log: { '1.0.0': {}, '1.1.0': {} } }),
  DAY,
);
const range = (text: string): Edit => ({
  kind: 'set-range',
  package: 'log',
  range: text,
  projects: ['web'],
});

test('the edit that ends the answer is named, be it answered again by a later one', () => {
  expect(endOfAnswer(BASE, [])).toBeNull();
  expect(endOfAnswer(BASE, [range('1.0.0'), range('1.1.0')])).toBeNull();
  const edits = [range('1.0.0'), range('^9.0.0'), range('1.1.0')];
  expect(evaluateDraft(BASE, edits).kind).toBe('answered');
  expect(endOfAnswer(BASE, edits)).toBe(1);
});

test('an edit that cannot be made ends nothing by itself', () => {
  const gone: Edit = { kind: 'unpin', package: 'log' };
  expect(endOfAnswer(BASE, [gone, range('^9.0.0')])).toBe(1);
});

test('levelling without a decision takes what is agreed, or agrees on the newest in use', () => {
  const { workspace, rows } = BASE;
  const [row] = rows;
  expect(row).toMatchObject({ name: 'log', off: 1 });
  expect(levelInUse(workspace!, row!, DAY)).toEqual([
    { kind: 'take-shared', package: 'log', projects: ['kit', 'web'] },
  ]);
  expect(levelInUse(workspace!, { ...row!, off: 0 }, DAY)).toEqual([]);
  const marks = [
    { version: '1.0.0', inLine: 0, off: 1 },
    { version: '1.1.0', inLine: 0, off: 0 },
  ];
  const unagreed = { ...row!, agreed: null, marks };
  expect(levelInUse(workspace!, unagreed, DAY)).toEqual(
    levelEdits(workspace!, 'log', '1.0.0', DAY),
  );
  expect(levelInUse(workspace!, { ...unagreed, marks: [] }, DAY)).toEqual([]);
});
