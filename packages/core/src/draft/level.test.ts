import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkLock, printLock } from '../lock/index.js';
import { resolve } from '../resolve/index.js';
import {
  anyAnswerableWorld,
  filesOf,
  recordsOf,
  releasesOf,
  workspaceOf,
  type World,
} from '../resolve/world.arbitrary.js';
import { SPELLINGS } from '../workspace/spellings.arbitrary.js';
import { LOCK_FILE, readWorkspace, type WorkspaceFiles } from '../workspace/index.js';
import { draftBase, type DraftBase } from './draft-base.js';
import { evaluateDraft, type Evaluation } from './evaluate-draft.js';
import { levelEdits } from '../edit/index.js';
import { Leveller } from './leveller.js';

const DAY = '2025-01-01';

type Answered = Extract<Evaluation, { kind: 'answered' }>;

/** A workspace, one package that its projects require, and one of that package's releases. */
interface Levelling {
  readonly base: DraftBase;
  readonly name: string;
  readonly version: string;
}

type Spell = (typeof SPELLINGS)[number][1];

/** The world as a workspace with a consistent lockfile; null where nothing answers it. */
function baseOf({ projects, registry }: World, spell: Spell): DraftBase | null {
  const files = spell(filesOf(projects));
  const records = recordsOf(registry);
  const outcome = resolve({ workspace: workspaceOf(files), records, asOf: DAY, before: null });
  if (outcome.kind !== 'answered') return null;
  return draftBase(new Map(files).set(LOCK_FILE, printLock(outcome.resolution)), records, DAY);
}

const anyLevelling = (spell: Spell) =>
  fc
    .tuple(anyAnswerableWorld, fc.nat(), fc.nat())
    .map(([world, pick, turn]): Levelling | null => {
      const base = baseOf(world, spell);
      const required = [
        ...new Set(Object.values(world.projects).flatMap((needs) => Object.keys(needs))),
      ].sort();
      const name = required[pick % Math.max(1, required.length)];
      if (base === null || name === undefined) return null;
      const releases = releasesOf(base.records, name);
      return { base, name, version: releases[turn % releases.length]!.text };
    })
    .filter((levelling) => levelling !== null);

describe.each(SPELLINGS)('in %s', (_, spell) => {
  test('levelling is consistent, leaves nothing to do, touches its lines alone, and is what the preview tells', () => {
    let answered = 0;
    fc.assert(
      fc.property(anyLevelling(spell), (levelling) => {
        const { base, name, version } = levelling;
        const edits = levelEdits(base.workspace!, name, version, DAY);
        const evaluation = evaluateDraft(base, edits);
        previewTells(levelling, evaluation);
        if (evaluation.kind !== 'answered') return;
        answered++;
        const files = new Map(base.files);
        for (const { path, after } of evaluation.changes) files.set(path, after);
        nothingIsOutOfLine(files, levelling);
        const again = evaluateDraft(draftBase(files, base.records, DAY), edits);
        expect(again).toMatchObject({ kind: 'answered', changes: [] });
        otherLinesStay(evaluation, name);
      }),
    );
    expect(answered).toBeGreaterThan(0);
  });
});

function nothingIsOutOfLine(files: WorkspaceFiles, { base, name }: Levelling): void {
  const { workspace, problems } = readWorkspace(files);
  expect(problems).toEqual([]);
  expect(checkLock(workspace!, files)).toMatchObject({ state: 'consistent', reasons: [] });
  const row = draftBase(files, base.records, DAY).rows.find((one) => one.name === name);
  if (row !== undefined) expect(row.off).toBe(0);
  const written = workspace!.projects.flatMap(({ requirements }) =>
    requirements.filter((r) => r.name === name),
  );
  expect(written.every((requirement) => requirement.written === 'shared')).toBe(true);
}

function otherLinesStay({ changes }: Answered, name: string): void {
  for (const { path, before, after } of changes) {
    if (path === LOCK_FILE || before === null) continue;
    const others = (text: string): readonly string[] =>
      text.split('\n').filter((line) => /^\s*"?([\w-]+)"?(?: =|:)/.exec(line)?.[1] !== name);
    expect(others(after)).toEqual(others(before));
  }
}

/** The preview is made on the model alone, without writing a file. */
function previewTells({ base, name, version }: Levelling, evaluation: Evaluation): void {
  const preview = new Leveller(base, [], name).preview(version)!;
  expect(preview.result.kind).toBe(evaluation.kind);
  if (evaluation.kind === 'unanswered' && preview.result.kind === 'unanswered') {
    const sentences = evaluation.unanswered.flatMap((one) => one.sentences);
    expect(preview.result.sentences).toHaveLength(sentences.length);
  }
  if (evaluation.kind !== 'answered' || preview.result.kind !== 'answered') return;
  const { consequences, resolution } = evaluation;
  expect(preview.files).toBe(consequences.manifests);
  expect(preview.result.allCopies).toBe(resolution.copies.length);
  expect(preview.result.copies).toBe(resolution.copies.filter((copy) => copy.name === name).length);
  expect(preview.result.peersBroken).toEqual(consequences.peersBroken);
  const { entered, left, moved } = consequences.change;
  expect(preview.result.change).toEqual({ entered, left, moved });
}
