import {
  checkLock,
  driftLines,
  readWorkspace,
  resolve,
  type DriftLine,
  type PackageRecords,
  type Resolution,
  type Workspace,
  type WorkspaceFiles,
} from '@deep-ledger/core';

export interface DriftTask {
  readonly files: WorkspaceFiles;
  readonly records: PackageRecords;
  /** YYYY-MM-DD */
  readonly day: string;
  /** A day; null: the lockfile. */
  readonly from: string | null;
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
  const lines = driftLines(before.resolution, after.resolution);
  const gone = lines.filter((line) => line.from !== null).length;
  return { same: before.resolution.copies.length - gone, lines, explanation: [] };
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
