import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { intersectRanges, isEmptyRange, requireRange } from '../../version/index.js';
import type { Requirement, Workspace } from '../../workspace/index.js';
import { Engine, type Question } from '../engine.js';
import { partOf } from '../policy/answer-under-policy.js';
import {
  RICH_PACKAGES,
  anyRichWorld,
  richFiles,
  richRecords,
  type RichWorld,
} from '../rich-world.arbitrary.js';
import { workspaceOf } from '../world.arbitrary.js';
import { changedWorkspace, type Change } from './changed-workspace.js';
import type { Unanswered } from './explain-unanswered.js';
import { suggestFixes, type SuggestedFixes } from './suggest-fixes.js';

const asOf = '2025-01-01';
/** As many as are told at most. */
const MOST_CAUSES = 8;

interface Told {
  readonly workspace: Workspace;
  readonly causes: readonly Unanswered[];
  readonly fixes: SuggestedFixes;
  readonly isAnswered: (workspace: Workspace) => boolean;
}

/** A world without an answer, with what is said of it. */
function told(world: RichWorld): Told {
  const workspace = workspaceOf(richFiles(world));
  const records = richRecords(world);
  const engine = new Engine(records);
  const question: Question = { workspace, asOf, before: null };
  const outcome = engine.resolve(question);
  const causes = outcome.kind === 'unanswered' ? outcome.unanswered : [];
  fc.pre(causes.length > 0);
  return {
    workspace,
    causes,
    fixes: suggestFixes(engine, question, causes),
    isAnswered: (changed) =>
      engine.resolve({ ...question, workspace: changed }).kind === 'answered',
  };
}

const only = (workspace: Workspace, some: readonly Requirement[]): Workspace =>
  partOf(workspace, (one) => some.includes(one));

/** One cause with all that does not belong to the others. */
function beside(workspace: Workspace, causes: readonly Unanswered[], cause: Unanswered): Workspace {
  const gone = causes
    .filter((other) => other !== cause)
    .flatMap(({ groups }) => {
      const isOwn = (group: readonly Requirement[]): boolean =>
        group.some((one) => cause.requirements.includes(one));
      return groups.find((group) => !isOwn(group)) ?? [];
    });
  return partOf(workspace, (one) => !gone.includes(one));
}

describe('in worlds without an answer', () => {
  test('each cause alone has none, and has one without any one of the requirements that it states', () => {
    fc.assert(
      fc.property(anyRichWorld, (world) => {
        const { workspace, causes, isAnswered } = told(world);
        for (const { groups, requirements } of causes) {
          expect(isAnswered(only(workspace, requirements))).toBe(false);
          for (const group of groups) {
            const rest = requirements.filter((one) => !group.includes(one));
            expect(isAnswered(only(workspace, rest)), group[0]!.name).toBe(true);
          }
        }
      }),
    );
  });

  test('every cause is told: without one requirement of each there is an answer', () => {
    fc.assert(
      fc.property(anyRichWorld, (world) => {
        const { workspace, causes, isAnswered } = told(world);
        fc.pre(causes.length < MOST_CAUSES);
        const gone = new Set(causes.flatMap(({ groups }) => groups[0]!));
        expect(isAnswered(partOf(workspace, (one) => !gone.has(one)))).toBe(true);
      }),
    );
  });

  test('a fix clears its cause, all together clear everything, and none is listed twice', () => {
    fc.assert(
      fc.property(anyRichWorld, (world) => {
        const { workspace, causes, fixes, isAnswered } = told(world);
        const { ofCause, together } = fixes;
        causes.forEach((cause, i) => {
          for (const { changes } of ofCause[i]!) {
            const changed = changedWorkspace(beside(workspace, causes, cause), changes);
            expect(isAnswered(changed)).toBe(true);
          }
          const sentences = ofCause[i]!.map(({ sentence }) => sentence);
          expect(new Set(sentences).size).toBe(sentences.length);
        });
        if (together !== null)
          expect(isAnswered(changedWorkspace(workspace, together.changes))).toBe(true);
      }),
    );
  });

  test('a range that has nothing of the old one says so, and settings are named by the explanation', () => {
    fc.assert(
      fc.property(anyRichWorld, (world) => {
        const { causes, fixes } = told(world);
        causes.forEach(({ sentences }, i) => {
          for (const { changes, sentence } of fixes.ofCause[i]!) {
            for (const change of changes) {
              if (change.kind === 'range') {
                const [from, to] = [requireRange(change.from), requireRange(change.to)];
                const isApart = isEmptyRange(intersectRanges(from, to));
                expect(change.isElsewhere).toBe(isApart);
                if (isApart) expect(sentence).toContain('no version in common');
              }
              if (change.kind === 'copies')
                expect(sentences.join(' ')).toMatch(
                  new RegExp(`cop(y|ies) of ${change.name}|ies of .*${change.name}`),
                );
              if (change.kind === 'peers') expect(sentences.join(' ')).toMatch(/beside|peers/);
            }
          }
          expect(sentences.join(' ')).not.toMatch(/\b1 copies|from (\S+) to \1\b/);
        });
      }),
    );
  });

  test('where one change of a range or of a setting clears a cause, a fix is suggested', () => {
    let all = 0;
    let without = 0;
    fc.assert(
      fc.property(anyRichWorld, (world) => {
        const { workspace, causes, fixes, isAnswered } = told(world);
        causes.forEach((cause, i) => {
          const { groups } = cause;
          all += 1;
          if (fixes.ofCause[i]!.length > 0) return;
          without += 1;
          const alone = beside(workspace, causes, cause);
          const ranges = groups.flatMap((group): Change[] =>
            ['*', '1.0.0', '1.1.0', '2.0.0', '2.1.0-rc.1'].map((to) => ({
              kind: 'range',
              requirements: group,
              from: '',
              to,
              isElsewhere: false,
            })),
          );
          const copies = RICH_PACKAGES.map((name): Change => ({
            kind: 'copies',
            name,
            from: 'one',
            to: 'any',
          }));
          const platform: Change = { kind: 'platform', name: 'runtime', from: null, to: '22.0.0' };
          for (const change of [...ranges, ...copies, platform, { kind: 'peers' } as const])
            expect(isAnswered(changedWorkspace(alone, [change])), JSON.stringify(change)).toBe(
              false,
            );
        });
      }),
    );
    process.stderr.write(`causes without a fix: ${without} of ${all}\n`);
    expect(all).toBeGreaterThan(0);
  });
});
