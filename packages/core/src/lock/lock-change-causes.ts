import { copyKey, type AnsweredRequirement, type Resolution } from '../resolve/index.js';
import { compareLocks, type LockChange } from './compare-locks.js';

/** A requirement of a project that is new, gone, or asks for something else. */
export interface ChangedRequirement {
  readonly project: string;
  readonly kind: AnsweredRequirement['kind'];
  readonly name: string;
  /** Null: there was none. */
  readonly from: string | null;
  /** Null: there is none any more. */
  readonly to: string | null;
}

/** The same requirement with another answer. */
export interface Reanswered {
  /** A project's folder, or name and version of a copy. */
  readonly owner: string;
  readonly name: string;
  readonly range: string;
  readonly from: string | null;
  readonly to: string | null;
}

/** What a change of a copy comes from. */
export type ChangeCause =
  | { readonly kind: 'requirement'; readonly requirement: ChangedRequirement }
  /** An owner that came or went; its own change says why. */
  | { readonly kind: 'owner'; readonly copy: string; readonly change: 'came' | 'went' }
  /** A peer that a project is now supplied with, or no longer. */
  | { readonly kind: 'supply'; readonly project: string; readonly name: string }
  /** The demands are as before: another release answers them, by a refresh, a policy or the registry. */
  | { readonly kind: 'release' };

export interface CopyCauses {
  readonly name: string;
  /** Null: the package has no copy that came with this one's going. */
  readonly to: string | null;
  readonly from: string | null;
  readonly causes: readonly ChangeCause[];
}

/** A change of a lockfile with the reasons for it. */
export interface ExplainedLockChange extends LockChange {
  readonly requirements: readonly ChangedRequirement[];
  readonly reanswered: readonly Reanswered[];
  /** One entry for each copy that entered, left or moved. */
  readonly because: readonly CopyCauses[];
}

interface Ask {
  readonly owner: string;
  readonly isProject: boolean;
  readonly kind: AnsweredRequirement['kind'] | 'supplied';
  readonly name: string;
  readonly range: string;
  readonly version: string | null;
}

/** Compares by meaning and says why each copy came, went or moved. O(requirements of both). */
export function explainLockChange(
  before: Resolution | null,
  after: Resolution,
): ExplainedLockChange {
  const old = new Asks(before);
  const now = new Asks(after);
  const change = compareLocks(before, after);
  const copies = [
    ...change.entered.map(({ name, version }) => ({ name, from: null, to: version })),
    ...change.left.map(({ name, version }) => ({ name, from: version, to: null })),
    ...change.moved.map(({ name, from, to }) => ({ name, from, to })),
  ];
  const because = copies.map(({ name, from, to }) => {
    const came = to === null ? [] : now.asking(name, to).flatMap((ask) => cameBy(ask, old, before));
    const went =
      from === null ? [] : old.asking(name, from).flatMap((ask) => wentBy(ask, now, after));
    // Who requires it no more is no reason for the others to move.
    const causes = to === null ? [...came, ...went] : [...came, ...went.filter(isNoRemoval)];
    return { name, from, to, causes: distinct(causes) };
  });
  return {
    ...change,
    requirements: changedRequirements(old, now),
    reanswered: reanswered(old, now),
    because,
  };
}

function isNoRemoval(cause: ChangeCause): boolean {
  return cause.kind !== 'requirement' || cause.requirement.to !== null;
}

class Asks {
  readonly all = new Map<string, Ask>();
  private readonly byAnswer = new Map<string, Ask[]>();
  readonly copies: ReadonlySet<string>;

  constructor(resolution: Resolution | null) {
    const { projects, copies } = resolution ?? { projects: [], copies: [] };
    this.copies = new Set(copies.map(copyKey));
    for (const { folder, requirements, supplied } of projects) {
      for (const requirement of requirements) this.add(folder, true, requirement);
      for (const { name, ranges, version } of supplied)
        this.put({
          owner: folder,
          isProject: true,
          kind: 'supplied',
          name,
          range: ranges.join(' and '),
          version,
        });
    }
    for (const copy of copies)
      for (const requirement of copy.requirements) this.add(copyKey(copy), false, requirement);
  }

  private add(owner: string, isProject: boolean, requirement: AnsweredRequirement): void {
    const { kind, name, range, answer } = requirement;
    if (range === null) return;
    const version = answer.kind === 'copy' ? answer.version : null;
    this.put({ owner, isProject, kind, name, range, version });
  }

  private put(ask: Ask): void {
    this.all.set(keyOf(ask), ask);
    if (ask.version === null) return;
    const key = `${ask.name} ${ask.version}`;
    const known = this.byAnswer.get(key);
    if (known === undefined) this.byAnswer.set(key, [ask]);
    else known.push(ask);
  }

  asking(name: string, version: string): readonly Ask[] {
    return this.byAnswer.get(`${name} ${version}`) ?? [];
  }

  same(ask: Ask): Ask | undefined {
    return this.all.get(keyOf(ask));
  }
}

function keyOf({ owner, kind, name }: Ask): string {
  return `${owner}\n${kind}\n${name}`;
}

function cameBy(ask: Ask, old: Asks, before: Resolution | null): readonly ChangeCause[] {
  const same = old.same(ask);
  if (same?.range === ask.range) return same.version === ask.version ? [] : [{ kind: 'release' }];
  if (!ask.isProject && (before === null || !old.copies.has(ask.owner)))
    return [{ kind: 'owner', copy: ask.owner, change: 'came' }];
  return causeOf(ask, same?.range ?? null, ask.range);
}

function wentBy(ask: Ask, now: Asks, after: Resolution): readonly ChangeCause[] {
  const same = now.same(ask);
  if (same?.range === ask.range) return same.version === ask.version ? [] : [{ kind: 'release' }];
  const isGone = ask.isProject
    ? !after.projects.some(({ folder }) => folder === ask.owner)
    : !now.copies.has(ask.owner);
  if (!ask.isProject && isGone) return [{ kind: 'owner', copy: ask.owner, change: 'went' }];
  return causeOf(ask, ask.range, same?.range ?? null);
}

function causeOf(
  { owner, kind, name }: Ask,
  from: string | null,
  to: string | null,
): readonly ChangeCause[] {
  return kind === 'supplied'
    ? [{ kind: 'supply', project: owner, name }]
    : [{ kind: 'requirement', requirement: { project: owner, kind, name, from, to } }];
}

/** Reasons once each; that another release answers is none where there is a better one. */
function distinct(causes: readonly ChangeCause[]): readonly ChangeCause[] {
  const byText = new Map(causes.map((cause) => [JSON.stringify(cause), cause]));
  const all = [...byText].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, cause]) => cause);
  const better = all.filter(({ kind }) => kind !== 'release');
  return better.length > 0 ? better : all;
}

function changedRequirements(old: Asks, now: Asks): readonly ChangedRequirement[] {
  const changed: ChangedRequirement[] = [];
  const add = ({ owner, kind, name }: Ask, from: string | null, to: string | null): void => {
    if (kind !== 'supplied' && from !== to) changed.push({ project: owner, kind, name, from, to });
  };
  for (const ask of now.all.values())
    if (ask.isProject) add(ask, old.same(ask)?.range ?? null, ask.range);
  for (const ask of old.all.values())
    if (ask.isProject && now.same(ask) === undefined) add(ask, ask.range, null);
  return changed.sort((a, b) => (placeOf(a) < placeOf(b) ? -1 : 1));
}

function placeOf({ project, kind, name }: ChangedRequirement): string {
  return `${project}\n${kind}\n${name}`;
}

function reanswered(old: Asks, now: Asks): readonly Reanswered[] {
  const found: Reanswered[] = [];
  for (const ask of now.all.values()) {
    const same = old.same(ask);
    if (same === undefined || same.range !== ask.range || same.version === ask.version) continue;
    const { owner, name, range, version } = ask;
    found.push({ owner, name, range, from: same.version, to: version });
  }
  return found.sort((a, b) => (`${a.owner}\n${a.name}` < `${b.owner}\n${b.name}` ? -1 : 1));
}
