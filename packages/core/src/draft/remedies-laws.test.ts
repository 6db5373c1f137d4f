import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findAll } from '../findings/index.js';
import { printLock } from '../lock/index.js';
import type { PackageRecords } from '../registry/index.js';
import { Engine, needlessCopies, resolve } from '../resolve/index.js';
import {
  anyAnswerableRichWorld,
  anyRichWorld,
  richFiles,
  richRecords,
  type RichWorld,
} from '../resolve/rich-world.arbitrary.js';
import type { SourceUse } from '../scan/index.js';
import { LOCK_FILE, readWorkspace, type WorkspaceFiles } from '../workspace/index.js';
import { draftBase, type DraftBase } from './draft-base.js';
import { evaluateDraft } from './evaluate-draft.js';
import { lookForNeedless, standOfBase, type Known } from './stand-of-draft.js';
import { triedRemedies } from './tried-remedies.js';

const DAY = '2025-01-01';

/** A world whose lockfile was made before its manifests and policy were as they are now. */
const anyGrownWorld = fc.record({
  now: fc.oneof(anyRichWorld, anyAnswerableRichWorld),
  before: anyAnswerableRichWorld,
  shared: fc.dictionary(
    fc.constantFrom('ash', 'birch', 'cedar'),
    fc.constantFrom('*', '^1.0.0', '>=1.1.0'),
    {
      maxKeys: 2,
    },
  ),
  used: fc.array(fc.constantFrom('ash', 'birch', 'cedar', 'dogwood', 'other'), { maxLength: 4 }),
});

interface Grown {
  readonly now: RichWorld;
  readonly before: RichWorld;
  readonly shared: Readonly<Record<string, string>>;
  readonly used: readonly string[];
}

function baseOf({ now, before, shared, used }: Grown): { base: DraftBase; known: Known } {
  const records = richRecords(now);
  const lines = Object.entries(shared).map(([name, range]) => `${name} = "${range}"\n`);
  const files = new Map(richFiles(now));
  files.set('ledger.shared.toml', `format = 1\n[shared]\n${lines.join('')}`);
  const earlier = readWorkspace(richFiles({ ...before, registry: now.registry })).workspace!;
  const lock = resolve({ workspace: earlier, records, asOf: DAY, before: null });
  if (lock.kind === 'answered') files.set(LOCK_FILE, printLock(lock.resolution));
  const base = draftBase(files, records, DAY);
  const use: SourceUse = new Map(
    (base.workspace?.projects ?? []).map(({ folder }) => [
      folder,
      {
        files: 1,
        unseen: [],
        references: new Map(
          used.map((name) => [
            name,
            [
              {
                file: `${folder}/a.ts`,
                line: 1,
                column: 1,
                specifier: name,
                form: 'import',
                isSure: true,
              },
            ],
          ]),
        ),
      },
    ]),
  ) as never;
  return { base, known: { use, needless: lookForNeedless(base) } };
}

function findingsOf(files: WorkspaceFiles, records: PackageRecords, use: Known['use']) {
  const base = draftBase(files, records, DAY);
  return findAll(standOfBase(base, { use, needless: lookForNeedless(base) })).map(({ id }) => id);
}

/** Two of a list, the drawn one and the next: each costs a workspace that is read and resolved anew. */
function someOf<T>(list: readonly T[], which: number): readonly T[] {
  const at = which % Math.max(1, list.length);
  return list.slice(at, at + 2);
}

describe('in random worlds', () => {
  test('what a remedy is said to clear and to raise is what posting its edits clears and raises', () => {
    fc.assert(
      fc.property(anyGrownWorld, fc.nat(), (grown, which) => {
        const { base, known } = baseOf(grown);
        const remedies = triedRemedies(base, known);
        const before = findAll(standOfBase(base, known)).map(({ id }) => id);
        for (const { edits, clears, raises } of someOf(remedies, which)) {
          const evaluation = evaluateDraft(base, edits);
          if (evaluation.kind !== 'answered') throw new Error(evaluation.kind);
          const after = findingsOf(evaluation.after.files, base.records, known.use);
          expect(clears).toEqual(before.filter((id) => !after.includes(id)));
          expect([...raises].sort()).toEqual(after.filter((id) => !before.includes(id)).sort());
          expect(clears.length).toBeGreaterThan(0);
        }
      }),
    );
  });

  test('a copy that is said to be needless goes when all is resolved with its picks, and no other way is missed', () => {
    fc.assert(
      fc.property(anyAnswerableRichWorld, (world) => {
        const workspace = readWorkspace(richFiles(world)).workspace!;
        const records = richRecords(world);
        const engine = new Engine(records);
        const first = resolve({ workspace, records, asOf: DAY, before: null });
        fc.pre(first.kind === 'answered');
        if (first.kind !== 'answered') return;
        const found = needlessCopies(engine, { workspace, asOf: DAY }, first.resolution);
        for (const { name, version, rePicks, copiesAfter } of found) {
          const before = first.resolution;
          const outcome = resolve({ workspace, records, asOf: DAY, before, rePicks });
          if (outcome.kind !== 'answered') throw new Error(outcome.kind);
          const { copies } = outcome.resolution;
          expect(copies.some((one) => one.name === name && one.version === version)).toBe(false);
          expect(copies.length).toBe(copiesAfter);
          expect(copiesAfter).toBeLessThan(first.resolution.copies.length);
        }
        // One pick to another copy of the package that does it is never overlooked.
        for (const copy of first.resolution.copies) {
          if (found.some((one) => one.name === copy.name && one.version === copy.version)) continue;
          for (const other of first.resolution.copies) {
            if (other.name !== copy.name || other === copy) continue;
            const pick = { name: copy.name, from: copy.version, to: other.version };
            const before = first.resolution;
            const outcome = resolve({ workspace, records, asOf: DAY, before, rePicks: [pick] });
            if (outcome.kind !== 'answered') continue;
            const { copies } = outcome.resolution;
            const isGone = !copies.some(
              (one) => one.name === copy.name && one.version === copy.version,
            );
            const names = new Set(copies.map((one) => one.name));
            const isMore = [...names].some((name) => {
              const count = (list: readonly { name: string }[]): number =>
                list.filter((one) => one.name === name).length;
              return count(copies) > Math.max(1, count(first.resolution.copies));
            });
            expect(isGone && !isMore && copies.length < first.resolution.copies.length).toBe(false);
          }
        }
      }),
    );
  });
});
