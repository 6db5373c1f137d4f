import fc from 'fast-check';
import { expect, test } from 'vitest';
import { resolve } from '../resolve/index.js';
import { anyAnswerableWorld, filesOf, recordsOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { driftLines } from './index.js';

function resolutionOf(
  projects: Parameters<typeof filesOf>[0],
  registry: Parameters<typeof recordsOf>[0],
) {
  const outcome = resolve({
    workspace: workspaceOf(filesOf(projects)),
    records: recordsOf(registry),
    asOf: '2025-01-01',
    before: null,
  });
  return outcome.kind === 'answered' ? outcome.resolution : null;
}

test('of two copies each is laid beside the one that answers the same requirements now', () => {
  const release = (version: string) => ({ [version]: {} });
  const projects = { a: { elm: '^1.0.0' }, b: { elm: '^2.0.0' }, c: { elm: '^2.0.0' } };
  const before = resolutionOf(projects, { elm: { ...release('1.0.0'), ...release('2.0.0') } });
  const after = resolutionOf(projects, { elm: { ...release('1.3.0'), ...release('2.0.4') } });
  const lines = driftLines(before!, after!);
  expect(lines.map(({ from, to, step, direction }) => ({ from, to, step, direction }))).toEqual([
    { from: '2.0.0', to: '2.0.4', step: 'patch', direction: 'up' },
    { from: '1.0.0', to: '1.3.0', step: 'minor', direction: 'up' },
  ]);
  expect(lines[0]!.demands.map(({ owner, range }) => `${owner} ${range}`)).toEqual([
    'b ^2.0.0',
    'c ^2.0.0',
  ]);
});

test('in random worlds every copy that differs is in one line, and no other', () => {
  fc.assert(
    fc.property(anyAnswerableWorld, anyAnswerableWorld, (one, other) => {
      const before = resolutionOf(one.projects, one.registry);
      const after = resolutionOf(other.projects, other.registry);
      if (before === null || after === null) return;
      const names = (list: typeof before.copies) =>
        new Set(list.map(({ name, version }) => `${name} ${version}`));
      const [old, now] = [names(before.copies), names(after.copies)];
      const lines = driftLines(before, after);
      const froms = lines.flatMap(({ name, from }) => (from === null ? [] : [`${name} ${from}`]));
      const tos = lines.flatMap(({ name, to }) => (to === null ? [] : [`${name} ${to}`]));
      expect(froms.sort()).toEqual([...old].filter((one) => !now.has(one)).sort());
      expect(tos.sort()).toEqual([...now].filter((one) => !old.has(one)).sort());
    }),
  );
});
