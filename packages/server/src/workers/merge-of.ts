import { posix } from 'node:path';
import {
  alignmentRows,
  Chains,
  checkLock,
  explainLockChange,
  lockMerged,
  LOCK_FILE,
  mergeManifests,
  needGraph,
  nodeName,
  nodeNamed,
  openTerms,
  packageOfConflict,
  readLock,
  readWorkspace,
  ROOT_FILE,
  SHAPES_FILE,
  touchedDisputes,
  type DisputedCopy,
  type ExplainedLockChange,
  type ManifestConflict,
  type MergeOutcome,
  type NeedGraph,
  type OpenTerms,
  type PackageRecords,
  type Resolution,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { settling, type Decision } from '../merges/settling.js';

/** The files of a workspace at the commits that a merge is made of. */
export interface MergeSides {
  readonly base: WorkspaceFiles;
  readonly ours: WorkspaceFiles;
  readonly theirs: WorkspaceFiles;
}

export interface MergeTask {
  readonly files: MergeSides;
  readonly decisions: readonly Decision[];
  readonly records: PackageRecords;
  /** YYYY-MM-DD */
  readonly today: string;
}

/** A merge that can be posted unless something stands against it. */
export type Merged = Pick<Extract<MergeOutcome, { kind: 'merged' }>, 'kind' | 'files' | 'sum'> & {
  /** Terms that nobody has accepted of copies that it brings into our branch. */
  readonly openTerms: readonly OpenTerms[];
  /** Copies in dispute that it touches in our branch. */
  readonly touched: readonly DisputedCopy[];
  readonly change: ExplainedLockChange;
  /** Before it in our branch, and after it. */
  readonly outOfLine: readonly [number, number];
  readonly copies: readonly [number | null, number];
};
export type MergeResult = Merged | Exclude<MergeOutcome, { kind: 'merged' }>;

/** The result of merging two branches: manifests by requirement, then the lockfile by resolving. */
export function mergeOf({ files, decisions, records, today }: MergeTask): MergeResult {
  const manifests = mergeManifests({ ...files, settle: settling(decisions) });
  if (manifests.kind !== 'merged') return manifests;
  const outcome = lockMerged(manifests, records, today);
  if (outcome.kind !== 'merged') return outcome;
  const written = readLock(files.ours.get(LOCK_FILE) ?? '');
  const before = written.kind === 'read' ? written.resolution : null;
  const ours = resolutionOf(files.ours);
  const { resolution } = outcome;
  return {
    kind: 'merged',
    files: outcome.files,
    sum: outcome.sum,
    openTerms: openTerms(manifests.workspace, records, resolution, before),
    touched: touchedDisputes(outcome.disputed, ours, resolution),
    change: explainLockChange(ours, resolution),
    outOfLine: [
      packagesOutOfLine(files.ours, ours, today),
      packagesOutOfLine(outcome.files, resolution, today),
    ],
    copies: [ours?.copies.length ?? null, resolution.copies.length],
  };
}

/** What the merged manifests say of registries: root and shapes; null: something stands against merging them. */
export function mergedSettings({
  files,
  decisions,
}: Pick<MergeTask, 'files' | 'decisions'>): WorkspaceFiles | null {
  const merged = mergeManifests({ ...files, settle: settling(decisions) });
  if (merged.kind !== 'merged') return null;
  return new Map([...merged.files].filter(([path]) => path === ROOT_FILE || path === SHAPES_FILE));
}

/** What both sides changed, and who brings the package that it is about. */
export interface ConflictFound {
  readonly conflict: ManifestConflict;
  /** Null: it is about no package. */
  readonly package: string | null;
  /** In our branch, each from a project to a copy of the package. */
  readonly chains: readonly (readonly string[])[];
}

const MOST_CHAINS = 3;

/** All that both sides changed, decided or not. */
export function conflictsOf(files: MergeSides): readonly ConflictFound[] {
  const merged = mergeManifests(files);
  if (merged.kind !== 'conflicts') return [];
  const resolution = resolutionOf(files.ours);
  const graph = resolution === null ? null : needGraph(resolution);
  return merged.conflicts.map((conflict) => {
    const name = packageOfConflict(conflict);
    const chains = name === null || graph === null ? [] : shortestTo(graph, name, conflict);
    return { conflict, package: name, chains };
  });
}

/** The shortest chain to each of a package's copies, from the project of a conflict where it is one's. */
function shortestTo(
  graph: NeedGraph,
  name: string,
  { file }: ManifestConflict,
): readonly (readonly string[])[] {
  const project = nodeNamed(graph, posix.dirname(file));
  const chains = new Chains(graph, project === null ? undefined : [project]);
  const found: (readonly string[])[] = [];
  for (const [i, copy] of graph.resolution.copies.entries()) {
    if (copy.name !== name) continue;
    if (found.length === MOST_CHAINS) break;
    for (const chain of chains.to(graph.projectCount + i)) {
      found.push(chain.map((node) => nodeName(graph, node)));
      break;
    }
  }
  return found;
}

function resolutionOf(files: WorkspaceFiles): Resolution | null {
  const { workspace } = readWorkspace(files);
  return workspace === null ? null : checkLock(workspace, files).resolution;
}

function packagesOutOfLine(
  files: WorkspaceFiles,
  resolution: Resolution | null,
  today: string,
): number {
  const { workspace } = readWorkspace(files);
  if (workspace === null) return 0;
  return alignmentRows(workspace, new Map(), resolution, today).filter(({ off }) => off > 0).length;
}
