import fc from 'fast-check';
import { draftBase, type DraftBase } from '../draft/index.js';
import { printLock } from '../lock/index.js';
import type { PackageRecords } from '../registry/index.js';
import { resolve } from '../resolve/index.js';
import {
  anyAnswerableRichWorld,
  richFiles,
  richRecords,
  type RichWorld,
} from '../resolve/rich-world.arbitrary.js';
import {
  anyAnswerableWorld,
  filesOf,
  recordsOf,
  type RegistrySketch,
  type World,
} from '../resolve/world.arbitrary.js';
import { LOCK_FILE, readWorkspace, type WorkspaceFiles } from '../workspace/index.js';

export const TODAY = '2025-01-01';

/** The registry as it was before some of its releases. */
function earlier(registry: RegistrySketch, kept: readonly number[]): RegistrySketch {
  return Object.fromEntries(
    Object.entries(registry).map(([name, releases], i) => {
      const all = Object.entries(releases).sort(([a], [b]) => (a < b ? -1 : 1));
      return [name, Object.fromEntries(all.slice(0, kept[i % kept.length]))];
    }),
  );
}

/** A workspace that was locked when there were fewer releases; null: nothing answered it then. */
function lockedEarlier(
  files: WorkspaceFiles,
  before: PackageRecords,
  records: PackageRecords,
): DraftBase | null {
  const { workspace, problems } = readWorkspace(files);
  if (workspace === null || problems.length > 0) return null;
  const outcome = resolve({ workspace, records: before, asOf: TODAY, before: null });
  if (outcome.kind !== 'answered') return null;
  const locked = new Map(files).set(LOCK_FILE, printLock(outcome.resolution));
  return draftBase(locked, records, TODAY);
}

const anyKept = fc.array(fc.integer({ min: 1, max: 3 }), { minLength: 5, maxLength: 5 });

/** Shared versions for some packages, with some projects that take them. */
function agreedFiles({ projects }: World, agreed: readonly string[]): WorkspaceFiles {
  const ranges = Object.assign({}, ...Object.values(projects)) as Record<string, string>;
  const lines = agreed.flatMap((name) =>
    ranges[name] === undefined ? [] : [`${name} = "${ranges[name]}"\n`],
  );
  const names = new Set(agreed.filter((name) => ranges[name] !== undefined));
  const taking = Object.entries(projects).map(([project, needs], i) => [
    project,
    Object.fromEntries(
      Object.entries(needs).map(([name, range]) => [
        name,
        names.has(name) && i % 2 === 0 ? 'shared' : range,
      ]),
    ),
  ]);
  return filesOf(Object.fromEntries(taking) as World['projects'], {
    'ledger.shared.toml': `format = 1\n[shared]\n${lines.join('')}`,
  });
}

function isBase(base: DraftBase | null): base is DraftBase {
  return base !== null;
}

const anyPlain = fc
  .tuple(anyAnswerableWorld, anyKept, fc.subarray(['ash', 'birch', 'cedar', 'dogwood', 'elm']))
  .map(([world, kept, agreed]) =>
    lockedEarlier(
      agreedFiles(world, agreed),
      recordsOf(earlier(world.registry, kept)),
      recordsOf(world.registry),
    ),
  )
  .filter(isBase);

const anyRich = fc
  .tuple(anyAnswerableRichWorld, anyKept)
  .map(([world, kept]: [RichWorld, number[]]) =>
    lockedEarlier(
      richFiles(world),
      richRecords({ ...world, registry: earlier(world.registry, kept) }),
      richRecords(world),
    ),
  )
  .filter(isBase);

/** Workspaces whose lockfiles are older than their registries, policies and peers among them. */
export const anyOldWorkspace: fc.Arbitrary<DraftBase> = fc.oneof(anyPlain, anyRich);
