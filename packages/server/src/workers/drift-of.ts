import {
  checkLock,
  demandsOn,
  explainLockChange,
  needGraph,
  nodeNamed,
  readWorkspace,
  resolve,
  type MovedCopy,
  type PackageRecords,
  type Resolution,
  type Workspace,
  type WorkspaceFiles,
} from '@deep-ledger/core';

const MOST_DEMANDS = 8;

export interface DriftTask {
  readonly files: WorkspaceFiles;
  readonly records: PackageRecords;
  /** YYYY-MM-DD */
  readonly day: string;
  /** A day; null: the lockfile. */
  readonly from: string | null;
}

/** A copy that differs. */
export interface DriftLine {
  readonly name: string;
  readonly from: string | null;
  readonly to: string | null;
  readonly step: MovedCopy['step'] | null;
  readonly direction: MovedCopy['direction'] | null;
  readonly demands: readonly {
    readonly owner: string;
    readonly isProject: boolean;
    readonly range: string;
  }[];
}

export interface DriftFound {
  readonly same: number;
  /** Null: nothing answers on one of the days, or there is no lockfile to compare with. */
  readonly lines: readonly DriftLine[] | null;
  readonly explanation: readonly string[];
}

/** How a resolution without the lockfile on a day differs from the lockfile, or from one on another day. */
export function driftOf({ files, records, day, from }: DriftTask): DriftFound {
  const { workspace } = readWorkspace(files);
  if (workspace === null) return nothing(['The manifests cannot be read.']);
  const before =
    from === null
      ? { resolution: checkLock(workspace, files).resolution, explanation: NO_LOCK }
      : fresh(workspace, records, from);
  const after = fresh(workspace, records, day);
  if (before.resolution === null) return nothing(before.explanation);
  if (after.resolution === null) return nothing(after.explanation);
  return compared(before.resolution, after.resolution);
}

const NO_LOCK = ['There is no lockfile that can be read.'];

function nothing(explanation: readonly string[]): DriftFound {
  return { same: 0, lines: null, explanation };
}

function fresh(
  workspace: Workspace,
  records: PackageRecords,
  asOf: string,
): { readonly resolution: Resolution | null; readonly explanation: readonly string[] } {
  const outcome = resolve({ workspace, records, asOf, before: null });
  switch (outcome.kind) {
    case 'answered':
      return { resolution: outcome.resolution, explanation: [] };
    case 'unanswered':
      return {
        resolution: null,
        explanation: [
          `On ${asOf} nothing would answer the manifests.`,
          ...outcome.unanswered.flatMap(({ sentences }) => sentences),
        ],
      };
    case 'ask':
      return {
        resolution: null,
        explanation: [`Nothing is known of ${outcome.names.join(', ')}.`],
      };
  }
}

function compared(before: Resolution, after: Resolution): DriftFound {
  const { because, moved } = explainLockChange(before, after);
  const steps = new Map(moved.map((one) => [one.name, one]));
  const [old, now] = [needGraph(before), needGraph(after)];
  const lines = because.map(({ name, from, to }): DriftLine => {
    const step = from !== null && to !== null ? steps.get(name) : undefined;
    const graph = to === null ? old : now;
    const node = nodeNamed(graph, `${name} ${to ?? from}`);
    return {
      name,
      from,
      to,
      step: step?.step ?? null,
      direction: step?.direction ?? null,
      demands: (node === null ? [] : demandsOn(graph, node))
        .map(({ owner, written }) => ({
          owner,
          isProject: !owner.includes(' '),
          range: written,
        }))
        .sort((a, b) => Number(b.isProject) - Number(a.isProject))
        .slice(0, MOST_DEMANDS),
    };
  });
  const gone = lines.filter(({ from }) => from !== null).length;
  return { same: before.copies.length - gone, lines, explanation: [] };
}
