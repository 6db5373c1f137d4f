import { rangeFor, type Policy } from '../manifest/index.js';
import { answerableSkips, suppliesWanted, type AnswerableSkip } from '../lock/index.js';
import {
  byKindAndName,
  copyKey,
  type AnsweredRequirement,
  type Copy,
  type ProjectAnswers,
  type Resolution,
  type SuppliedPeer,
} from '../resolve/index.js';
import { compareVersions, rangeContains, requireVersion } from '../version/index.js';
import type { Workspace } from '../workspace/index.js';
import { alteredOf, paired, said, type LockDifferences, type Pair } from './lock-differences.js';

/** A copy that comes may ask for more copies, or answer what was skipped; after so many rounds a mixture is given up. */
const MOST_ROUNDS = 20;

/** One mixture while it is put together. */
export class Mixing {
  /** The differences that it makes use of. Of those that were chosen some may have no effect. */
  readonly used = new Set<number>();
  /** Of each project, by name. */
  private supplies = new Map<string, Map<string, SuppliedPeer>>();
  /** Versions that answer what both lockfiles skip, by owner and package. */
  private readonly unskipped = new Map<string, string>();
  private readonly policy: Policy;

  /**
   * @param wanted gets what is brought along
   * @param endSkips what the lockfiles skip themselves though they have a copy that answers it; it stays skipped
   */
  constructor(
    private readonly differences: LockDifferences,
    private readonly workspace: Workspace,
    private readonly wanted: Set<number>,
    private readonly endSkips: ReadonlySet<string>,
  ) {
    this.policy = workspace.policy;
  }

  /** @returns null where supplies find no end. O(size), for each round */
  resolution(): Resolution | null {
    for (let round = 0; round < MOST_ROUNDS; round++) {
      this.used.clear();
      const { size } = this.wanted;
      const resolution = this.reached();
      // A copy that comes along may change the answers of others.
      const isSettled = this.supply(resolution) && this.wanted.size === size;
      if (isSettled && !this.answerSkips(resolution)) return resolution;
    }
    return null;
  }

  /** @returns whether all that is asked for is supplied already */
  private supply(resolution: Resolution): boolean {
    const before = this.supplies;
    this.supplies = new Map();
    let isSame = true;
    for (const { project, name, ranges } of suppliesWanted(resolution, this.policy)) {
      const { folder } = this.differences.later.projects[project]!;
      const own = this.supplies.get(folder) ?? new Map<string, SuppliedPeer>();
      this.supplies.set(folder, own);
      const version = this.supplied(folder, name, ranges);
      own.set(name, { name, ranges, version });
      const known = before.get(folder)?.get(name);
      isSame &&= known?.version === version && known.ranges.join('\0') === ranges.join('\0');
    }
    const count = (all: typeof before): number =>
      [...all.values()].reduce((sum, own) => sum + own.size, 0);
    return isSame && count(before) === count(this.supplies);
  }

  /** Answers what is skipped though a copy that answers it has come from the other lockfile. @returns is there any? */
  private answerSkips(resolution: Resolution): boolean {
    const before = this.unskipped.size;
    for (const skip of answerableSkips(resolution, this.workspace))
      if (!this.endSkips.has(skipKey(skip)))
        this.unskipped.set(ownedKey(skip.owner, skip.name), skip.version);
    return this.unskipped.size > before;
  }

  /** All that is reached from the projects. */
  private reached(): Resolution {
    const copies = new Map<string, Copy>();
    const open: (readonly [name: string, version: string])[] = [];
    const follow = (requirements: readonly AnsweredRequirement[]): void => {
      for (const { name, answer } of requirements)
        if (answer.kind === 'copy') open.push([name, answer.version]);
    };
    const projects = this.differences.later.projects.map((project): ProjectAnswers => {
      const requirements = this.settled(project.folder, this.differences.requirementsOf(project));
      const own = this.supplies.get(project.folder) ?? new Map<string, SuppliedPeer>();
      const supplied = [...own.values()].sort((a, b) => (a.name < b.name ? -1 : 1));
      follow(requirements);
      for (const { name, version } of supplied) if (version !== null) open.push([name, version]);
      return { ...project, requirements, supplied };
    });
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      const key = copyKey({ name: next[0], version: next[1] });
      if (copies.has(key)) continue;
      const copy = this.copy(key);
      copies.set(key, copy);
      follow(copy.requirements);
    }
    return { projects, copies: [...copies.values()].sort(byNameAndVersion) };
  }

  /** A copy with its answers. */
  private copy(key: string): Copy {
    const [before, after] = [this.differences.before.get(key), this.differences.after.get(key)];
    if (after === undefined) {
      const requirements = before!.requirements.map((one) => this.keptOrMoved(key, one));
      return { ...before!, requirements };
    }
    if (before === undefined)
      return { ...after, requirements: after.requirements.map((one) => this.inPlace(key, one)) };
    const altered = this.differences.numberOf(alteredOf(after));
    const block = altered === undefined || this.uses(altered) ? after : before;
    return {
      ...block,
      requirements: this.settled(key, paired(before.requirements, after.requirements)),
    };
  }

  /** For an owner that both have: the later answer where the difference is chosen. */
  private settled(owner: string, pairs: readonly Pair[]): readonly AnsweredRequirement[] {
    return pairs
      .flatMap(([before, after]) => {
        const [from, to] = [said(before), said(after)];
        const { name } = (after ?? before)!;
        if (from === to) return after === null ? [] : this.perhapsUnskipped(owner, after);
        const isLater = this.uses(this.differences.numberOf({ name, from, to })!);
        return (isLater ? after : before) ?? [];
      })
      .sort(byKindAndName);
  }

  /** For an owner that only the earlier one has: the copy that has moved, where its range admits it. */
  private keptOrMoved(owner: string, one: AnsweredRequirement): AnsweredRequirement {
    if (one.answer.kind !== 'copy') return this.perhapsUnskipped(owner, one);
    const moved = this.differences
      .comingFrom(one.name, one.answer.version)
      .filter((i) => this.wanted.has(i));
    const version = this.newest(
      one,
      moved.map((i) => this.differences.list[i]!.to),
      this.differences.after,
    );
    if (version === null) return one;
    this.uses(moved.find((i) => this.differences.list[i]!.to === version)!);
    return { ...one, answer: { kind: 'copy', version } };
  }

  /**
   * For an owner that only the later one has: its answer there, if that is in place, else a copy that is in place; else
   * its answer comes along.
   */
  private inPlace(owner: string, one: AnsweredRequirement): AnsweredRequirement {
    if (one.answer.kind !== 'copy') return this.perhapsUnskipped(owner, one);
    const { version } = one.answer;
    if (this.differences.before.has(copyKey({ name: one.name, version }))) return one;
    const leading = this.differences.leadingTo(one.name, version);
    if (leading.some((i) => this.uses(i))) return one;
    const from = leading.map((i) => this.differences.list[i]!.from);
    const old = this.newest(one, from, this.differences.before);
    if (old !== null) return { ...one, answer: { kind: 'copy', version: old } };
    this.wanted.add(leading[0]!);
    return one;
  }

  private perhapsUnskipped(owner: string, one: AnsweredRequirement): AnsweredRequirement {
    if (one.answer.kind !== 'skipped') return one;
    const version = this.unskipped.get(ownedKey(owner, one.name));
    return version === undefined ? one : { ...one, answer: { kind: 'copy', version } };
  }

  /** The copy that a project is supplied with for these ranges; null: none that any of them admits. */
  private supplied(folder: string, name: string, ranges: readonly string[]): string | null {
    const [before, after] = this.differences.suppliesOf(folder, name);
    const [from, to] = [before?.version ?? null, after?.version ?? null];
    const at = this.differences.numberOf({ name, from, to });
    // A copy that came along asks for a peer that nobody asked for in the earlier one.
    if (at !== undefined && before === undefined) this.wanted.add(at);
    const admitted = (version: string | null): string | null =>
      version !== null && ranges.some((text) => this.admits(name, text, version)) ? version : null;
    const [old, now] = [
      admitted((before ?? after)?.version ?? null),
      admitted((after ?? before)?.version ?? null),
    ];
    if (at === undefined || old === now) return now;
    return this.uses(at) ? now : old;
  }

  /** The newest of some versions that a requirement admits and that are among these copies; null: there is none. */
  private newest(
    { name, range }: AnsweredRequirement,
    versions: readonly (string | null)[],
    copies: ReadonlyMap<string, Copy>,
  ): string | null {
    const fit = versions
      .flatMap((version) =>
        version !== null && copies.has(copyKey({ name, version })) ? [version] : [],
      )
      .filter((version) => this.admits(name, range ?? '', version))
      .sort((a, b) => compareVersions(requireVersion(b), requireVersion(a)));
    return fit[0] ?? null;
  }

  private admits(name: string, range: string, version: string): boolean {
    return rangeContains(rangeFor(this.policy, name, range), requireVersion(version));
  }

  /** Is a difference chosen? Then it is made use of here. */
  private uses(one: number): boolean {
    if (!this.wanted.has(one)) return false;
    this.used.add(one);
    return true;
  }
}

export function skipKey({ owner, name, version }: AnswerableSkip): string {
  return `${ownedKey(owner, name)}\0${version}`;
}

function ownedKey(owner: string, name: string): string {
  return `${owner}\0${name}`;
}

function byNameAndVersion(a: Copy, b: Copy): number {
  if (a.name !== b.name) return a.name < b.name ? -1 : 1;
  return compareVersions(requireVersion(a.version), requireVersion(b.version));
}
