import { compareLocks, type LockChange } from '../lock/index.js';
import type { Release } from '../registry/index.js';
import type { SheetRow, StandingRequirement } from '../sheet/index.js';
import { isPrerelease, rangeContains } from '../version/index.js';
import type { Workspace } from '../workspace/index.js';
import type { Edit } from './edit.js';
import type { DraftBase } from './draft-base.js';
import { evaluateDraft } from './evaluate-draft.js';
import { levelEdits, rangeLike } from './level-edits.js';

/** A version that a package could be levelled at, with what that would cost. */
export interface Candidate {
  readonly version: string;
  /** The shared version that would be agreed on. */
  readonly range: string;
  readonly edits: readonly Edit[];
  /** Projects whose range admits the version as it is. */
  readonly allowedBy: number;
  /** Hand-written files that would change. */
  readonly manifests: number;
  readonly result:
    | {
        readonly kind: 'answered';
        readonly copies: number;
        readonly off: number;
        readonly change: LockChange;
      }
    | { readonly kind: 'unanswered'; readonly sentences: readonly string[] };
  readonly isNewest: boolean;
  readonly isAgreed: boolean;
  readonly deprecated: string | null;
}

/**
 * The candidates for levelling one package, newest first: of each minor line the newest release, and every
 * release that is in use. Each is evaluated as a draft on top of the edits in hand, so it costs one resolution.
 */
export function candidatesFor(
  base: DraftBase,
  edits: readonly Edit[],
  workspace: Workspace,
  row: SheetRow,
  standing: readonly StandingRequirement[],
): readonly Candidate[] {
  const releases = base.records.get(row.name)?.releases ?? [];
  const before = evaluateDraft(base, edits);
  const beforeResolution = before.kind === 'answered' ? before.resolution : null;
  return candidateReleases(releases, row).map((release): Candidate => {
    const range = rangeLike(row.agreed, release.text);
    const level = levelEdits(workspace, row.name, release.text, base.today);
    const evaluation = evaluateDraft(base, [...edits, ...level]);
    const admits = standing.filter((one) => rangeContains(one.range, release.version));
    return {
      version: release.text,
      range,
      edits: level,
      allowedBy: new Set(admits.map(({ requirement }) => requirement.project)).size,
      manifests: evaluation.kind === 'answered' ? evaluation.consequences.manifests : 0,
      result:
        evaluation.kind === 'answered'
          ? {
              kind: 'answered',
              copies:
                evaluation.consequences.rows.find(({ name }) => name === row.name)?.copies ?? 0,
              off: evaluation.consequences.rows.find(({ name }) => name === row.name)?.off ?? 0,
              change: compareLocks(beforeResolution, evaluation.resolution),
            }
          : { kind: 'unanswered', sentences: reasonsOf(evaluation) },
      isNewest: release.text === row.newest,
      isAgreed: range === row.agreed,
      deprecated: release.deprecated,
    };
  });
}

function candidateReleases(releases: readonly Release[], row: SheetRow): readonly Release[] {
  const used = new Set(row.marks.map(({ version }) => version));
  const newestOfLine = new Map<string, Release>();
  for (const release of releases) {
    if (release.isWithdrawn || isPrerelease(release.version)) continue;
    newestOfLine.set(`${release.version.major}.${release.version.minor}`, release);
  }
  const lines = new Set(newestOfLine.values());
  return releases.filter((release) => lines.has(release) || used.has(release.text)).reverse();
}

function reasonsOf(
  evaluation: Exclude<ReturnType<typeof evaluateDraft>, { kind: 'answered' }>,
): readonly string[] {
  switch (evaluation.kind) {
    case 'unanswered':
      return evaluation.explanations.flat();
    case 'unreadable':
      return evaluation.problems.map(({ message }) => message);
    case 'inapplicable':
      return evaluation.problems.flatMap((problem) => problem?.message ?? []);
    case 'ask':
      return [`The registry's records of ${evaluation.names.join(', ')} are not loaded.`];
  }
}
