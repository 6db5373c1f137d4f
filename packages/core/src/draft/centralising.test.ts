import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { printLock } from '../lock/index.js';
import { resolve } from '../resolve/index.js';
import { anyAnswerableWorld, filesOf, recordsOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { SPELLINGS } from '../workspace/spellings.arbitrary.js';
import { LOCK_FILE } from '../workspace/index.js';
import { draftBase, type DraftBase } from './draft-base.js';
import { evaluateDraft } from './evaluate-draft.js';
import { centralisingEdits, proposeCentralising } from './centralising.js';
import { suggestSets } from './suggest-sets.js';

const DAY = '2026-01-01';

type Spell = (typeof SPELLINGS)[number][1];

function locked(
  projects: Readonly<Record<string, Readonly<Record<string, string>>>>,
  registry: Parameters<typeof recordsOf>[0],
  others: Readonly<Record<string, string>> = {},
  spell: Spell = (files) => files,
): DraftBase | null {
  const files = spell(filesOf(projects, others));
  const records = recordsOf(registry);
  const outcome = resolve({ workspace: workspaceOf(files), records, asOf: DAY, before: null });
  if (outcome.kind !== 'answered') return null;
  return draftBase(new Map(files).set(LOCK_FILE, printLock(outcome.resolution)), records, DAY);
}

const on = (published: string) => ({ published: `${published}T08:00:00Z` });
const TOGETHER = {
  '1.0.0': on('2025-01-01'),
  '1.1.0': on('2025-02-01'),
  '1.2.0': on('2025-03-01'),
};
const baseIn = (spell: Spell): DraftBase =>
  locked(
    {
      web: { log: '^1.0.0', 'grid-core': '1.1.0', 'grid-form': '1.1.0', tape: '^1.0.0' },
      desk: { log: '^1.0.0', 'grid-core': '1.1.0', 'grid-form': '1.1.0' },
      kiosk: { log: '~1.0.0', tape: '^1.0.0', alone: '1.0.0' },
      roster: { log: '>=1.0.0 <2.0.0' },
    },
    {
      log: { '1.0.0': {}, '1.0.5': {}, '1.3.0': {} },
      tape: { '1.0.0': {}, '1.1.0': {} },
      alone: { '1.0.0': {} },
      'grid-core': TOGETHER,
      'grid-form': TOGETHER,
    },
    { 'ledger.shared.toml': 'format = 1\n[shared]\ntape = "^1.0.0"\n' },
    spell,
  )!;

describe.each(SPELLINGS)('in %s', (_, spell) => {
  const BASE = baseIn(spell);
  test('each package that several projects write by themselves is proposed at what most of them write', () => {
    const { lines, sets } = proposeCentralising(BASE);
    expect(
      lines.map(({ package: name, set, agreed, choices }) => [
        name,
        set,
        agreed,
        choices.map(({ range, takes, moves, isStill }) => [
          range,
          takes.length,
          moves.map(({ project, from, to, step }) => [project, from, to, step]),
          isStill,
        ]),
      ]),
    ).toEqual([
      ['grid-core', 'grid', null, [['1.1.0', 2, [], true]]],
      ['grid-form', 'grid', null, [['1.1.0', 2, [], true]]],
      [
        'log',
        null,
        null,
        [
          ['^1.0.0', 3, [['kiosk', '1.0.5', '1.0.5', 'none']], true],
          [
            '~1.0.0',
            1,
            [
              ['desk', '1.0.5', '1.0.5', 'none'],
              ['roster', '1.0.5', '1.0.5', 'none'],
              ['web', '1.0.5', '1.0.5', 'none'],
            ],
            true,
          ],
        ],
      ],
      ['tape', null, '^1.0.0', [['^1.0.0', 2, [], true]]],
    ]);
    expect(sets).toEqual([
      { name: 'grid', packages: ['grid-core', 'grid-form'], why: 'released together' },
    ]);
  });

  test('what is chosen becomes edits: sets, and for each package one edit that levels it', () => {
    const chosen = ['grid-core', 'grid-form', 'tape'].map((name) => ({
      package: name,
      range: name === 'tape' ? '^1.0.0' : '1.1.0',
    }));
    const edits = centralisingEdits(BASE, chosen, proposeCentralising(BASE).sets);
    expect(edits).toEqual([
      { kind: 'make-set', set: 'grid', range: '1.1.0', packages: ['grid-core', 'grid-form'] },
      { kind: 'level', package: 'grid-core', range: '1.1.0', projects: ['desk', 'web'] },
      { kind: 'level', package: 'grid-form', range: '1.1.0', projects: ['desk', 'web'] },
      { kind: 'level', package: 'tape', range: '^1.0.0', projects: ['kiosk', 'web'] },
    ]);
    const evaluation = evaluateDraft(BASE, edits);
    if (evaluation.kind !== 'answered') throw new Error(evaluation.kind);
    const { entered, left, moved, reanswered } = evaluation.consequences.change;
    expect([entered, left, moved, reanswered]).toEqual([[], [], [], []]);
  });

  test('a choice that is said to move nothing leaves every copy, in any world', () => {
    fc.assert(
      fc.property(anyAnswerableWorld, ({ projects, registry }) => {
        const base = locked(projects, registry);
        for (const { package: name, choices } of base === null
          ? []
          : proposeCentralising(base).lines) {
          for (const { range, isStill } of choices) {
            const edits = centralisingEdits(base!, [{ package: name, range }], []);
            const evaluation = evaluateDraft(base!, edits);
            if (evaluation.kind !== 'answered') throw new Error(evaluation.kind);
            const { entered, left, moved } = evaluation.consequences.change;
            if (isStill) expect([entered, left, moved]).toEqual([[], [], []]);
          }
        }
      }),
    );
  });
});

test('a set is suggested for packages released together or tied by equal versions, and for no others', () => {
  const records = recordsOf({
    'grid-core': TOGETHER,
    'grid-form': TOGETHER,
    'grid-late': {
      '1.0.0': on('2025-01-02'),
      '1.1.0': on('2025-02-02'),
      '1.2.0': on('2025-03-02'),
    },
    'ice-axe': { '2.0.0': {}, '2.0.1': {}, '2.0.2': {} },
    'ice-screw': Object.fromEntries(
      ['2.0.0', '2.0.1', '2.0.2'].map((version) => [
        version,
        { ...on('2025-06-01'), needs: { 'ice-axe': version } },
      ]),
    ),
    once: { '1.0.0': on('2025-01-01') },
  });
  expect(suggestSets(records, [...records.keys()])).toEqual([
    { name: 'grid', packages: ['grid-core', 'grid-form'], why: 'released together' },
    {
      name: 'ice',
      packages: ['ice-axe', 'ice-screw'],
      why: 'require each other at equal versions',
    },
  ]);
});
