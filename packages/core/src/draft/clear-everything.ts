import type { Edit } from '../edit/index.js';
import {
  findAll,
  mutesOf,
  rankSingleRemedies,
  SEVERITY_POINTS,
  type Finding,
  type Remedy,
} from '../findings/index.js';
import { Engine, needlessCopies, type Resolution } from '../resolve/index.js';
import { compareVersions, requireVersion, versionStep } from '../version/index.js';
import { draftBase, type DraftBase } from './draft-base.js';
import { EditMaker } from './edit-maker.js';
import { answerDraft, type AnsweredDraft, type MadeEdits } from './evaluate-draft.js';
import { lookForNeedless, standAfterDraft, standOfBase, type Known } from './stand-of-draft.js';

/** Why a finding stays. */
export type LeftReason =
  | { readonly kind: 'no-remedy' }
  /** Its remedy changes what the team allows or believes. */
  | { readonly kind: 'decision'; readonly says: string }
  /** The source alone cannot tell, so its remedy is taken only when a person ticks it. */
  | { readonly kind: 'perhaps'; readonly says: string }
  | { readonly kind: 'major-step'; readonly says: string; readonly packages: readonly string[] }
  | { readonly kind: 'no-answer'; readonly says: string }
  | { readonly kind: 'raises'; readonly says: string; readonly findings: readonly string[] }
  /** Its remedy changes nothing about it. */
  | { readonly kind: 'in-vain'; readonly says: string }
  /** It can be cleared, but only once what is found here is posted. */
  | { readonly kind: 'after-post'; readonly says: string };

export interface Clearing {
  /** The smallest set of edits that was found; none: there is nothing to clear. */
  readonly edits: readonly Edit[];
  readonly cleared: readonly Finding[];
  readonly left: readonly { readonly finding: Finding; readonly why: LeftReason }[];
}

/**
 * Computes the edits that clear all findings that can be cleared without a major step and without a decision:
 * remedies are tried together, those that stand in the way are found by halving, and what turns out not to be
 * needed is left out again. It goes on until nothing more can be cleared, also from where a post of the edits
 * would lead, so that a second time finds nothing. Muted findings are left alone.
 * @param ticked names of findings whose first remedy a person has decided on, as that of what is perhaps unused
 * @param watch hears how many tries there were; whatever it throws stops the work
 * Cost: an evaluation and the findings for each try; for r remedies about 2 r in the worst case, log r where
 * few stand in the way.
 */
export function clearEverything(
  base: DraftBase,
  known: Known,
  watch: (tried: number) => void = () => undefined,
  ticked: ReadonlySet<string> = new Set(),
): Clearing {
  const start = (at: DraftBase, knownThere: Known, remedies: readonly Remedy[]): ClearingRun =>
    new ClearingRun(at, knownThere, remedies, watch, ticked);
  let clearing = start(base, known, []).run();
  for (let round = 0; round < MOST_ROUNDS && clearing.evaluation !== null; round++) {
    const { after } = clearing.evaluation;
    const posted = draftBase(after.files, base.records, base.today);
    const again = start(posted, renewed(posted, known), []).run(clearing);
    if (again.remedies.length === 0) break;
    const whole = start(base, known, [...clearing.remedies, ...again.remedies]);
    if (!whole.isBetterThan(clearing)) {
      clearing.stay(again.remedies);
      break;
    }
    clearing = whole.run();
  }
  return clearing.shorten().outcome();
}

const MOST_ROUNDS = 8;

/** Remedies that were taken, and what they lead to. */
interface State {
  readonly remedies: readonly Remedy[];
  /** Null: without any, things are as they are. */
  readonly evaluation: AnsweredDraft | null;
  readonly findings: readonly Finding[];
  readonly points: number;
}

class ClearingRun {
  private readonly muted: ReadonlySet<string>;
  private readonly plain: Known;
  private readonly start: State;
  private state: State;
  private rejected = new Map<string, LeftReason>();
  private afterPost: readonly Remedy[] = [];
  private tried = 0;
  private maker: EditMaker | null = null;

  constructor(
    private readonly base: DraftBase,
    private readonly known: Known,
    remedies: readonly Remedy[],
    private readonly watch: (tried: number) => void,
    private readonly ticked: ReadonlySet<string>,
  ) {
    this.muted = new Set(mutesOf(base.workspace, base.today).keys());
    // Needless copies are looked for once a round: looking for them resolves, and every attempt would pay for it.
    this.plain = { ...known, needless: null };
    const findings = findAll(standOfBase(base, this.plain));
    this.start = {
      remedies: [],
      evaluation: null,
      findings,
      points: this.pointsOf(findings),
    };
    this.state = this.start;
    this.take(remedies);
  }

  get remedies(): readonly Remedy[] {
    return this.state.remedies;
  }

  get evaluation(): AnsweredDraft | null {
    return this.state.evaluation;
  }

  isBetterThan(other: ClearingRun): boolean {
    return this.state.points < other.state.points;
  }

  stay(remedies: readonly Remedy[]): void {
    this.afterPost = remedies;
  }

  /** @param before what was found out about remedies before those that are posted now */
  run(before: ClearingRun | null = null): this {
    if (before !== null) this.rejected = before.rejected;
    for (;;) {
      const { points } = this.state;
      // A remedy that takes a major step takes it whatever else is done.
      this.rejected = new Map(
        [...this.rejected].filter(([, { kind }]) => kind === 'major-step' || kind === 'no-answer'),
      );
      const candidates = rankSingleRemedies(this.open()).filter(
        ({ isDecision, edits }) => !isDecision && !this.rejected.has(JSON.stringify(edits)),
      );
      this.take(candidates);
      if (this.state.points === points) return this;
    }
  }

  /** Leaves out what turned out not to be needed. */
  shorten(): this {
    this.leaveOut(this.state.remedies);
    return this;
  }

  outcome(): Clearing {
    const { evaluation, remedies, findings } = this.state;
    const now = new Set(findings.map(({ id }) => id));
    return {
      edits: evaluation === null ? [] : this.shortest(remedies.flatMap(({ edits }) => edits)),
      cleared: this.start.findings.filter(({ id }) => !now.has(id)),
      left: findings
        .filter(({ id }) => !this.muted.has(id))
        .map((finding) => ({ finding, why: this.whyLeft(finding) })),
    };
  }

  /** The same edits in fewer, where the result is the same. */
  private shortest(edits: readonly Edit[]): readonly Edit[] {
    const short = joined(edits);
    const evaluation = answerDraft(this.base, short);
    if (evaluation.kind !== 'answered') return edits;
    const findings = findAll(standAfterDraft(this.base, evaluation, this.plain));
    return this.pointsOf(findings) === this.state.points ? short : edits;
  }

  /** Takes as many of these as go together. */
  private take(remedies: readonly Remedy[]): void {
    if (remedies.length === 0) return;
    this.watch(this.tried++);
    const attempt = this.attempt([...this.state.remedies, ...remedies]);
    if (!('why' in attempt)) {
      this.state = attempt;
      return;
    }
    if (remedies.length === 1) {
      this.rejected.set(JSON.stringify(remedies[0]!.edits), attempt.why);
      return;
    }
    const half = Math.ceil(remedies.length / 2);
    this.take(remedies.slice(0, half));
    this.take(remedies.slice(half));
  }

  /** Leaves out the remedies without which nothing is worse. */
  private leaveOut(remedies: readonly Remedy[]): void {
    if (remedies.length === 0) return;
    this.watch(this.tried++);
    const rest = this.state.remedies.filter((one) => !remedies.includes(one));
    const attempt = rest.length === 0 ? this.start : this.attempt(rest);
    if (!('why' in attempt) && attempt.points <= this.state.points) {
      this.state = attempt;
      return;
    }
    if (remedies.length === 1) return;
    const half = Math.ceil(remedies.length / 2);
    this.leaveOut(remedies.slice(half));
    this.leaveOut(remedies.slice(0, half));
  }

  /** The state with these remedies; why not, where it is no better than the one there is. */
  private attempt(remedies: readonly Remedy[]): State | { readonly why: LeftReason } {
    const says = remedies.at(-1)!.says;
    const edits = remedies.flatMap((one) => one.edits);
    const made = this.make(remedies);
    const evaluation = answerDraft(this.base, edits, made);
    if (evaluation.kind !== 'answered') return { why: { kind: 'no-answer', says } };
    const packages = majorSteps(this.base.lock?.resolution ?? null, evaluation.resolution);
    if (packages.length > 0) return { why: { kind: 'major-step', says, packages } };
    const findings = findAll(standAfterDraft(this.base, evaluation, this.plain));
    const points = this.pointsOf(findings);
    const old = new Set(this.start.findings.map(({ id }) => id));
    const raised = findings.filter(({ id, severity }) => !old.has(id) && severity !== 'note');
    if (raised.length > 0)
      return { why: { kind: 'raises', says, findings: raised.map((one) => one.says) } };
    const isLeavingOut = remedies.length < this.state.remedies.length;
    if (!isLeavingOut && points >= this.state.points) return { why: { kind: 'in-vain', says } };
    return { remedies, evaluation, findings, points };
  }

  private make(remedies: readonly Remedy[]): MadeEdits | null {
    this.maker ??=
      this.base.workspace === null ? null : new EditMaker(this.base, this.base.workspace);
    return this.maker?.make(remedies.map(({ edits }) => edits)) ?? null;
  }

  /** The findings that are open now, with what is needless looked for. */
  private open(): readonly Finding[] {
    const { evaluation } = this.state;
    const findings =
      evaluation === null
        ? findAll(standOfBase(this.base, this.known))
        : findAll(
            standAfterDraft(this.base, evaluation, {
              ...this.known,
              needless: this.needlessAfter(evaluation),
            }),
          );
    return findings
      .filter(({ id }) => !this.muted.has(id))
      .map((finding) => (this.ticked.has(finding.id) ? decided(finding) : finding));
  }

  private needlessAfter({ resolution, after }: AnsweredDraft): Known['needless'] {
    if (this.known.needless === null) return null;
    const question = { workspace: after.workspace, asOf: this.base.today };
    // An engine of its own, so that the one that answers drafts stays where it stands.
    return needlessCopies(new Engine(this.base.records), question, resolution);
  }

  private pointsOf(findings: readonly Finding[]): number {
    return findings.reduce(
      (sum, { id, severity }) => sum + (this.muted.has(id) ? 0 : SEVERITY_POINTS[severity]),
      0,
    );
  }

  private whyLeft({ kind, remedies }: Finding): LeftReason {
    if (remedies.length === 0) return { kind: 'no-remedy' };
    for (const { edits, isDecision } of remedies) {
      if (isDecision) continue;
      const key = JSON.stringify(edits);
      const later = this.afterPost.find((one) => JSON.stringify(one.edits) === key);
      if (later !== undefined) return { kind: 'after-post', says: later.says };
      const why = this.rejected.get(key);
      if (why !== undefined) return why;
    }
    return { kind: kind === 'unused' ? 'perhaps' : 'decision', says: remedies[0]!.says };
  }
}

/** The finding with its first remedy decided on. */
function decided(finding: Finding): Finding {
  const [first, ...others] = finding.remedies;
  return first === undefined
    ? finding
    : { ...finding, remedies: [{ ...first, isDecision: false }, ...others] };
}

function renewed(base: DraftBase, { use, needless }: Known): Known {
  return { use, needless: needless === null ? null : lookForNeedless(base) };
}

/** Packages that some project moves to a higher major version of. */
function majorSteps(before: Resolution | null, after: Resolution): readonly string[] {
  const old = new Map<string, string>();
  for (const { folder, requirements } of before?.projects ?? [])
    for (const { kind, name, answer } of requirements)
      if (answer.kind === 'copy') old.set(`${folder} ${kind} ${name}`, answer.version);
  const stepped = new Set<string>();
  for (const { folder, requirements } of after.projects) {
    for (const { kind, name, answer } of requirements) {
      const from = old.get(`${folder} ${kind} ${name}`);
      if (from === undefined || answer.kind !== 'copy' || from === answer.version) continue;
      const [a, b] = [requireVersion(from), requireVersion(answer.version)];
      if (versionStep(a, b) === 'major' && compareVersions(a, b) < 0) stepped.add(name);
    }
  }
  return [...stepped].sort();
}

/** Joins edits that say the same of several projects or packages into one, in the place of the first. */
function joined(edits: readonly Edit[]): readonly Edit[] {
  const joint: Edit[] = [];
  const at = new Map<string, number>();
  for (const edit of edits) {
    const key = jointKey(edit);
    const first = key === null ? undefined : at.get(key);
    if (first === undefined) {
      if (key !== null) at.set(key, joint.length);
      joint.push(edit);
      continue;
    }
    const both = join(joint[first]!, edit);
    // A removal waits for all that is asked of the same requirement before it.
    if (edit.kind !== 'remove-requirement') {
      joint[first] = both;
      continue;
    }
    joint.splice(first, 1, NOTHING);
    at.set(key!, joint.length);
    joint.push(both);
  }
  return joint.filter((edit) => edit !== NOTHING);
}

const NOTHING: Edit = { kind: 'bring-up' };

function jointKey(edit: Edit): string | null {
  switch (edit.kind) {
    case 'level':
    case 'take-shared':
    case 'remove-requirement':
    case 'set-range':
    case 'add-requirement':
      return JSON.stringify({ ...edit, projects: [] });
    case 'refresh':
      return edit.packages.length === 0 ? 'refresh all' : 'refresh';
    case 'change-kind':
    case 'believe-use':
      return null;
    default:
      return JSON.stringify(edit);
  }
}

function join(first: Edit, second: Edit): Edit {
  if ('projects' in first && 'projects' in second)
    return { ...first, projects: [...new Set([...first.projects, ...second.projects])].sort() };
  if (first.kind === 'refresh' && second.kind === 'refresh')
    return { ...first, packages: [...new Set([...first.packages, ...second.packages])].sort() };
  return first;
}
