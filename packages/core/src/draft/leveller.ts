import { compareLocks, type LockChange } from '../lock/index.js';
import type { Release } from '../registry/index.js';
import type { Question, Resolution, ResolveOutcome, UnmetPeer } from '../resolve/index.js';
import {
  AnswerIndex,
  requirementsOn,
  standRequirements,
  type StandingRequirement,
} from '../alignment/index.js';
import { isPrerelease, rangeContains, requireVersion } from '../version/index.js';
import { isBlocking, placeProblem, type Workspace } from '../workspace/index.js';
import type { DraftBase } from './draft-base.js';
import { editsWithoutLevel, levelStep, rangeLike, type Edit } from '../edit/index.js';
import { makeEdits, peersWithout, termsOf } from './evaluate-draft.js';
import { levelledWorkspace } from './levelled-workspace.js';
import { rankCandidates, type Candidate } from './rank-candidates.js';

/** The effect of levelling a package at one version. */
export interface LevelPreview {
  readonly version: string;
  /** The shared version that would be agreed on. */
  readonly range: string;
  /** Folders of projects whose range admits the version as it is. */
  readonly allowedBy: readonly string[];
  /** Folders of projects whose manifest would change. */
  readonly takers: readonly string[];
  /** Hand-written files that would change: those manifests, and the shared file where it does. */
  readonly files: number;
  /** Projects whose copy would be of another major than now. */
  readonly majorSteps: number;
  readonly result:
    | {
        readonly kind: 'answered';
        /** Of the package. */
        readonly copies: number;
        /** In the lockfile. */
        readonly allCopies: number;
        /** Projects still out of line. */
        readonly off: number;
        readonly change: LockChange;
        readonly peersBroken: readonly UnmetPeer[];
      }
    | { readonly kind: 'unanswered'; readonly sentences: readonly string[] };
}

/** A workspace with the edits of a draft, ready to try one version after another. */
export class Leveller {
  private readonly workspace: Workspace | null;
  private readonly terms: Omit<Question, 'workspace'>;
  private readonly before: Resolution | null;
  /** What keeps every version from an answer: files that cannot be read, edits that cannot be made. */
  private readonly troubles: readonly string[];
  private readonly peersBefore: readonly UnmetPeer[];
  /** What projects ask of the package, and how it stands, before it is levelled. */
  private readonly standing: readonly StandingRequirement[];
  /** Folders of projects that are to take the shared version. */
  private readonly takers: readonly string[];

  /**
   * @param edits of the draft in hand; those that level the package already are left aside
   * Cost: the reading of the files that the edits change, and one answer of the base's engine.
   */
  constructor(
    private readonly base: DraftBase,
    edits: readonly Edit[],
    private readonly name: string,
  ) {
    const others = editsWithoutLevel(edits, name);
    const made = base.workspace === null ? null : makeEdits(base, base.workspace, others);
    this.workspace = made?.reading.workspace ?? null;
    this.troubles = [
      ...(made?.problems.flatMap((problem) => problem?.message ?? []) ?? []),
      ...(made?.reading.problems ?? base.reading.problems)
        .filter(isBlocking)
        .map((problem) => placeProblem(made?.files ?? base.files, problem).message),
    ];
    this.terms = termsOf(base, others);
    const outcome =
      this.workspace === null
        ? null
        : base.engine.resolve({ ...this.terms, workspace: this.workspace });
    const isAnswered = outcome?.kind === 'answered';
    this.before = isAnswered ? outcome.resolution : (base.lock?.resolution ?? null);
    this.peersBefore = isAnswered ? outcome.unmetPeers : [];
    this.standing =
      this.workspace === null
        ? []
        : standRequirements(
            this.workspace,
            requirementsOn(this.workspace, name),
            new AnswerIndex(this.before, name),
            base.today,
          );
    this.takers =
      this.workspace === null ? [] : levelStep(this.workspace, name, '0.0.0', base.today).takers;
  }

  /**
   * The effect of levelling at a version: the same as evaluating the edits that level it, but made on the
   * model, without writing and reading any file. Null: no project requires the package.
   * Cost: one answer of the engine from where it stands, O(requirements + copies).
   */
  preview(version: string): LevelPreview | null {
    const { workspace, name, base } = this;
    const { standing } = this;
    if (workspace === null || standing.length === 0) return null;
    const agreed = workspace.agreements.get(name)?.text ?? null;
    const step = { range: rangeLike(agreed, version), takers: this.takers };
    const levelled = levelledWorkspace(workspace, name, step);
    const outcome = base.engine.resolve({ ...this.terms, workspace: levelled });
    const shared = {
      version,
      range: step.range,
      allowedBy: foldersOf(
        standing.filter((one) => rangeContains(one.range, requireVersion(version))),
      ),
      takers: step.takers,
      files: step.takers.length + (agreed === step.range ? 0 : 1),
    };
    const sentences = this.troubles.length > 0 ? this.troubles : whyUnanswered(outcome);
    if (outcome.kind !== 'answered' || sentences.length > 0)
      return { ...shared, majorSteps: 0, result: { kind: 'unanswered', sentences } };
    const { resolution, unmetPeers } = outcome;
    const answers = new AnswerIndex(resolution, name);
    const asking = new Set(standing.map(({ requirement }) => requirement.project));
    const after = standRequirements(
      levelled,
      requirementsOn(
        { projects: levelled.projects.filter(({ folder }) => asking.has(folder)) },
        name,
      ),
      answers,
      base.today,
    );
    return {
      ...shared,
      majorSteps: majorSteps(standing, after),
      result: {
        kind: 'answered',
        copies: answers.copiesOf(name).length,
        allCopies: resolution.copies.length,
        off: foldersOf(after.filter(({ isOff }) => isOff)).length,
        change: compareLocks(this.before, resolution),
        peersBroken: peersWithout(unmetPeers, this.peersBefore),
      },
    };
  }

  /**
   * The versions worth trying: of each minor line the newest release, and every release that is in use, from the
   * lowest in use on, newest first.
   */
  versions(): readonly string[] {
    const releases = this.base.records.get(this.name)?.releases ?? [];
    const used = new Set(new AnswerIndex(this.before, this.name).copiesOf(this.name));
    const lowest = releases.findIndex(({ text }) => used.has(text));
    const newestOfLine = new Map<string, Release>();
    for (const release of releases) {
      if (release.isWithdrawn || isPrerelease(release.version)) continue;
      newestOfLine.set(`${release.version.major}.${release.version.minor}`, release);
    }
    const lines = new Set(newestOfLine.values());
    return releases
      .slice(Math.max(0, lowest))
      .filter((release) => lines.has(release) || used.has(release.text))
      .map(({ text }) => text)
      .reverse();
  }

  /** Previews beside each other; see `rankCandidates`. */
  rank(previews: readonly LevelPreview[]): readonly Candidate[] {
    return rankCandidates(previews, {
      record: this.base.records.get(this.name) ?? null,
      agreed: this.workspace?.agreements.get(this.name)?.text ?? null,
      used: new AnswerIndex(this.before, this.name).copiesOf(this.name),
    });
  }
}

function whyUnanswered(outcome: ResolveOutcome): readonly string[] {
  switch (outcome.kind) {
    case 'answered':
      return [];
    case 'unanswered':
      return outcome.unanswered.flatMap((one) => one.sentences);
    case 'ask':
      return [`The registry's records of ${outcome.names.join(', ')} are not loaded.`];
  }
}

function foldersOf(standing: readonly StandingRequirement[]): readonly string[] {
  return [...new Set(standing.map(({ requirement }) => requirement.project))];
}

/** Projects whose answer changes its major. */
function majorSteps(
  before: readonly StandingRequirement[],
  after: readonly StandingRequirement[],
): number {
  const old = new Map(
    before.map((one) => [`${one.requirement.project} ${one.requirement.kind}`, one.answer]),
  );
  const moved = after.filter(({ requirement: { project, kind }, answer }) => {
    const was = old.get(`${project} ${kind}`) ?? null;
    return (
      was !== null && answer !== null && requireVersion(was).major !== requireVersion(answer).major
    );
  });
  return foldersOf(moved).length;
}
