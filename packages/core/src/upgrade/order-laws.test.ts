import fc from 'fast-check';
import { expect, test } from 'vitest';
import { evaluateDraft, type DraftBase } from '../draft/index.js';
import type { Edit } from '../edit/index.js';
import { upgradeRows } from './offers.js';
import { anyOldWorkspace } from './old-workspace.arbitrary.js';

/** What the command line makes of adds, removes and upgrades: of each package at most one, each by itself. */
const anySteps: fc.Arbitrary<readonly [DraftBase, readonly Edit[]]> = anyOldWorkspace.chain(
  (base) => {
    const upgrades = upgradeRows(base).flatMap(({ offers }): Edit[] =>
      offers[0] === undefined ? [] : [{ kind: 'upgrade', moves: offers[0].moves }],
    );
    const { projects } = base.workspace!;
    const removes = projects.flatMap(({ folder, requirements }) =>
      requirements.map(({ name }): Edit => ({
        kind: 'remove-requirement',
        package: name,
        projects: [folder],
      })),
    );
    const adds = projects.flatMap(({ folder, requirements }) =>
      [...base.records].flatMap(([name, record]): Edit[] => {
        const newest = record?.releases.at(-1)?.text;
        if (newest === undefined || requirements.some((one) => one.name === name)) return [];
        return [
          {
            kind: 'add-requirement',
            package: name,
            range: `^${newest}`,
            as: 'runtime',
            projects: [folder],
          },
        ];
      }),
    );
    return fc.tuple(
      fc.constant(base),
      fc.uniqueArray(fc.constantFrom<Edit>(...upgrades, ...removes, ...adds), {
        selector: (edit) => packagesOf(edit).join(' '),
        maxLength: 4,
      }),
    );
  },
);

function packagesOf(edit: Edit): readonly string[] {
  if (edit.kind === 'upgrade') return edit.moves.map((one) => one.package);
  return 'package' in edit && typeof edit.package === 'string' ? [edit.package] : [];
}

/** The files that edits lead to; null: they are refused. */
function after(base: DraftBase, edits: readonly Edit[]): ReadonlyMap<string, string> | null {
  const evaluation = evaluateDraft(base, edits);
  if (evaluation.kind !== 'answered') return null;
  return new Map(evaluation.changes.map((change) => [change.path, change.after]));
}

test('adds, removes and upgrades in one step lead to the same bytes in any order', () => {
  let answered = 0;
  const anyOrders = anySteps.chain(([base, edits]) =>
    fc.tuple(
      fc.constant(base),
      fc.constant(edits),
      fc.shuffledSubarray([...edits], { minLength: edits.length }),
    ),
  );
  fc.assert(
    fc.property(anyOrders, ([base, edits, shuffled]) => {
      const names = edits.flatMap(packagesOf);
      fc.pre(edits.length > 1 && new Set(names).size === names.length);
      const one = after(base, edits);
      if (one !== null) answered++;
      expect(after(base, shuffled)).toEqual(one);
    }),
  );
  expect(answered).toBeGreaterThan(0);
});
