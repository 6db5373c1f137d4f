import { expect, test } from 'vitest';
import { suggestFixes } from '../resolve/index.js';
import { filesOf, recordsOf } from '../resolve/world.arbitrary.js';
import { draftBase } from './draft-base.js';
import type { Edit } from '../edit/index.js';
import { evaluateDraft, termsOf } from './evaluate-draft.js';
import { fixEdits } from './fix-edits.js';

const DAY = '2025-01-01';
const RECORDS = recordsOf({
  log: { '1.0.0': {}, '2.0.0': { platform: { runtime: '>=22' } } },
  wire: { '1.0.0': { needs: { log: '^1.0.0' } } },
  fresh: { '1.0.0': {}, '2.0.0': { published: '2024-12-30T00:00:00Z' } },
});
const ROOT = `format = 1
name = "test"
projects = ["*"]
registry = "main"
[platform]
runtime = "20.0.0"
[policy]
minimum-age-days = 14
[policy.package.log]
copies = "one"
`;

/** Each suggested fix of a draft without an answer, with the edits that make it. */
function fixes(
  projects: Parameters<typeof filesOf>[0],
  edits: readonly Edit[],
  shared = 'format = 1\n',
): readonly (readonly [string, readonly Edit[]])[] {
  const files = filesOf(projects, { 'ledger.toml': ROOT, 'ledger.shared.toml': shared });
  const base = draftBase(files, RECORDS, DAY);
  const evaluation = evaluateDraft(base, edits);
  if (evaluation.kind !== 'unanswered') throw new Error(evaluation.kind);
  const { workspace, unanswered } = evaluation;
  const question = { ...termsOf(base, edits), workspace };
  return suggestFixes(base.engine, question, unanswered).ofCause.flatMap((list) =>
    list.map((fix) => {
      const more = fixEdits(workspace, fix);
      expect(evaluateDraft(base, [...edits, ...more]).kind).toBe('answered');
      return [fix.sentence, more] as const;
    }),
  );
}

test('a platform that is too old: another range, or a newer platform', () => {
  expect(
    fixes({ web: { log: '^1.0.0' } }, [
      { kind: 'set-range', package: 'log', range: '^2.0.0', projects: ['web'] },
    ]).map(([, edits]) => edits),
  ).toEqual([
    [{ kind: 'set-range', package: 'log', range: '^1.0.0', projects: ['web'] }],
    [{ kind: 'set-platform', name: 'runtime', version: '22.0.0' }],
  ]);
});

test('a shared version is relaxed in the shared file', () => {
  const shared = 'format = 1\n[shared]\nlog = "^1.0.0"\n';
  const edits = fixes(
    { web: { log: 'shared' } },
    [{ kind: 'set-shared', package: 'log', range: '^2.0.0' }],
    shared,
  ).flatMap(([, list]) => list);
  expect(edits).toContainEqual({ kind: 'set-shared', package: 'log', range: '^1.0.0' });
});

test('one copy alone allowed, a pin, and an age: each has its edit', () => {
  const kinds = (list: readonly (readonly [string, readonly Edit[]])[]): readonly string[] =>
    list.flatMap(([, edits]) => edits.map(({ kind }) => kind));
  const copies = fixes({ web: { wire: '1.0.0' }, desk: {} }, [
    { kind: 'set-platform', name: 'runtime', version: '22.0.0' },
    { kind: 'add-requirement', package: 'log', range: '2.0.0', as: 'runtime', projects: ['desk'] },
  ]);
  expect(copies.flatMap(([, edits]) => edits)).toContainEqual({
    kind: 'set-policy',
    package: 'log',
    setting: 'copies',
    value: 'one-per-major',
  });
  expect(kinds(fixes({ web: { fresh: '2.0.0' } }, []))).toContain('set-policy');
  const pinned: Edit = { kind: 'pin', package: 'log', version: '1.0.0' };
  const platform: Edit = { kind: 'set-platform', name: 'runtime', version: '22.0.0' };
  expect(kinds(fixes({ web: { log: '^2.0.0' } }, [platform, pinned]))).toContain('unpin');
});
