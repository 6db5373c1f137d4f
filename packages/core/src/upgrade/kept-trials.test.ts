import fc from 'fast-check';
import { expect, test } from 'vitest';
import { draftBase, evaluateDraft, type DraftBase } from '../draft/index.js';
import type { Edit } from '../edit/index.js';
import { printLock } from '../lock/index.js';
import { resolve } from '../resolve/index.js';
import { filesOf, recordsOf } from '../resolve/world.arbitrary.js';
import { LOCK_FILE, readWorkspace } from '../workspace/index.js';
import { KeptTrials } from './kept-trials.js';
import { upgradeRows } from './offers.js';
import { anyOldWorkspace, TODAY } from './old-workspace.arbitrary.js';
import { UpgradeTrials } from './upgrade-trials.js';

/** A workspace, and the same after somebody has posted something. */
const anyPosted: fc.Arbitrary<readonly [DraftBase, DraftBase]> = anyOldWorkspace.chain((base) => {
  const edits = [
    ...upgradeRows(base).flatMap(({ offers }): Edit[] =>
      offers.map(({ moves }) => ({ kind: 'upgrade', moves })),
    ),
    ...base.workspace!.projects.flatMap(({ folder, requirements }) =>
      requirements.map(({ name }): Edit => ({
        kind: 'remove-requirement',
        package: name,
        projects: [folder],
      })),
    ),
    ...[...base.records].flatMap(([name, record]): Edit[] =>
      record === null || record.releases.length === 0
        ? []
        : [
            {
              kind: 'add-requirement',
              package: name,
              range: `^${record.releases.at(-1)!.text}`,
              as: 'runtime',
              projects: [base.workspace!.projects[0]!.folder],
            },
            { kind: 'pin', package: name, version: record.releases[0]!.text },
          ],
    ),
  ];
  return fc.constantFrom(...edits).map((edit) => [base, after(base, edit)] as const);
});

function after(base: DraftBase, edit: Edit): DraftBase {
  const evaluation = evaluateDraft(base, [edit]);
  if (evaluation.kind !== 'answered') return base;
  const files = new Map(base.files);
  for (const change of evaluation.changes) files.set(change.path, change.after);
  return draftBase(files, base.records, TODAY);
}

test('kept over a post, trials come to what they would come to if all were tried again', () => {
  let [kept, all] = [0, 0];
  fc.assert(
    fc.property(anyPosted, ([base, posted]) => {
      fc.pre(base !== posted);
      const trials = new KeptTrials(base);
      for (const { offers } of upgradeRows(base)) for (const { moves } of offers) trials.try(moves);
      const next = trials.on(posted);
      kept += next.size;
      all += trials.size;
      const fresh = new UpgradeTrials(posted);
      for (const { offers } of upgradeRows(posted))
        for (const { moves } of offers) {
          const { against, price } = fresh.try(moves);
          expect(next.try(moves)).toEqual({ against, price });
        }
    }),
  );
  expect(kept / all).toBeGreaterThan(0.1);
});

test('a trial is not kept where what is supplied hangs on who requires the asker', () => {
  const sketch = {
    ash: { '1.1.0': { peers: { cedar: { range: '^1.0.0' } } } },
    birch: { '1.0.0': { needs: { ash: '^1.0.0' } } },
    cedar: {
      '1.0.0': { needs: { birch: '^1.0.0' } },
      '1.1.0': { needs: { ghost: '^3.0.0' } },
    },
    ghost: { '1.0.0': {} },
  };
  const optional = (range: string) => `[needs.optional]\ncedar = "${range}"\n`;
  const files = new Map([
    ...filesOf({}),
    ['north/ledger.project.toml', `name = "north"\n[needs]\nash = "<2.0.0"\n${optional('1.0.0')}`],
  ]);
  const locked = resolve({
    workspace: readWorkspace(files).workspace!,
    records: recordsOf(sketch),
    asOf: TODAY,
    before: null,
  }) as Extract<ReturnType<typeof resolve>, { kind: 'answered' }>;
  if (locked.kind !== 'answered') throw new Error(JSON.stringify(locked));
  const base = draftBase(
    files.set(LOCK_FILE, printLock(locked.resolution)),
    recordsOf(sketch),
    TODAY,
  );
  const moves = [{ package: 'cedar', from: '1.0.0', to: '1.1.0' }];
  const trials = new KeptTrials(base);
  trials.try(moves);
  const posted = after(base, {
    kind: 'remove-requirement',
    package: 'ash',
    projects: ['north'],
  });
  expect(posted).not.toBe(base);
  expect(trials.on(posted).try(moves)).toEqual(new KeptTrials(posted).try(moves));
});
