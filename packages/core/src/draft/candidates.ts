import { compareLocks, type LockChange } from '../lock/index.js';
import type { Release } from '../registry/index.js';
import type { SheetRow, StandingRequirement } from '../sheet/index.js';
import { isPrerelease, rangeContains, requireVersion } from '../version/index.js';
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
  /** The one to begin with; see `suggested`. */
  readonly isSuggested: boolean;
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
  const candidates = candidateReleases(releases, row).map((release): Candidate => {
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
      isSuggested: false,
      isAgreed: range === row.agreed,
      deprecated: release.deprecated,
    };
  });
  const first = suggested(candidates, row);
  return candidates.map((one) => (one === first ? { ...one, isSuggested: true } : one));
}

/** The newest that resolves, is not deprecated and takes nobody to a major that no project is at yet. */
function suggested(candidates: readonly Candidate[], { marks }: SheetRow): Candidate | null {
  const highest = Math.max(...marks.map(({ version }) => requireVersion(version).major));
  const good = candidates.filter(
    ({ result, deprecated }) => result.kind === 'answered' && deprecated === null,
  );
  const inUse = good.find(({ version }) => requireVersion(version).major <= highest);
  return inUse ?? good[0] ?? candidates[0] ?? null;
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
