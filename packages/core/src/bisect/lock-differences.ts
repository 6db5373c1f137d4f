import {
  copyKey,
  type AnsweredRequirement,
  type Copy,
  type ProjectAnswers,
  type Resolution,
  type SuppliedPeer,
} from '../resolve/index.js';
import { compareVersions, requireVersion } from '../version/index.js';

/**
 * One way in which two lockfiles differ: owners of a package get another answer. Where both ends are the same version,
 * its archive is another one.
 */
export interface LockDifference {
  readonly name: string;
  /** A version, or the folder of a project; null: none. */
  readonly from: string | null;
  readonly to: string | null;
}

/** An owner's requirement in both lockfiles; one of them may lack it. */
export type Pair = readonly [before: AnsweredRequirement | null, after: AnsweredRequirement | null];

/** Two lockfiles side by side, with the ways in which they differ, numbered. */
export class LockDifferences {
  /** Sorted by name, then by what they come from and lead to. */
  readonly list: readonly LockDifference[];
  readonly before: ReadonlyMap<string, Copy>;
  readonly after: ReadonlyMap<string, Copy>;
  private readonly projectsBefore: ReadonlyMap<string, ProjectAnswers>;
  private readonly projectsAfter: ReadonlyMap<string, ProjectAnswers>;
  private readonly byKey: ReadonlyMap<string, number>;
  private readonly byEnd = new Map<string, number[]>();
  private readonly byStart = new Map<string, number[]>();

  /** O(size of both). Projects are those of the later one. */
  constructor(
    before: Resolution,
    readonly later: Resolution,
  ) {
    this.before = copiesByKey(before);
    this.after = copiesByKey(later);
    this.projectsBefore = projectsByFolder(before);
    this.projectsAfter = projectsByFolder(later);
    this.list = this.found();
    this.byKey = new Map(this.list.map((one, i) => [keyOf(one), i]));
    this.list.forEach(({ name, from, to }, i) => {
      note(this.byStart, endKey(name, from), i);
      note(this.byEnd, endKey(name, to), i);
    });
  }

  /** The number of a difference; undefined: there is none. */
  numberOf(one: LockDifference): number | undefined {
    return this.byKey.get(keyOf(one));
  }

  leadingTo(name: string, version: string): readonly number[] {
    return this.byEnd.get(endKey(name, version)) ?? [];
  }

  comingFrom(name: string, version: string): readonly number[] {
    return this.byStart.get(endKey(name, version)) ?? [];
  }

  requirementsOf(project: ProjectAnswers): readonly Pair[] {
    const before = this.projectsBefore.get(project.folder);
    return paired(before?.requirements ?? [], project.requirements);
  }

  /** The copy that a project is supplied with under a name in both; undefined: neither asks for one. */
  suppliesOf(
    folder: string,
    name: string,
  ): readonly [before: SuppliedPeer | undefined, after: SuppliedPeer | undefined] {
    const of = (project: ProjectAnswers | undefined): SuppliedPeer | undefined =>
      project?.supplied.find((one) => one.name === name);
    return [of(this.projectsBefore.get(folder)), of(this.projectsAfter.get(folder))];
  }

  private found(): readonly LockDifference[] {
    const found = new Map<string, LockDifference>();
    const add = (name: string, from: string | null, to: string | null): void => {
      const one = { name, from, to };
      if (from !== to) found.set(keyOf(one), one);
    };
    const compare = (pairs: readonly Pair[]): void => {
      for (const [a, b] of pairs) add((b ?? a)!.name, said(a), said(b));
    };
    for (const project of this.later.projects) {
      compare(this.requirementsOf(project));
      const old = this.projectsBefore.get(project.folder)?.supplied ?? [];
      for (const { name } of [...old, ...project.supplied]) {
        const [before, after] = this.suppliesOf(project.folder, name);
        add(name, before?.version ?? null, after?.version ?? null);
      }
    }
    for (const [key, after] of this.after) {
      const before = this.before.get(key);
      if (before === undefined) continue;
      const { name, version } = after;
      compare(paired(before.requirements, after.requirements));
      if (before.integrity !== after.integrity)
        found.set(keyOf(alteredOf(after)), { name, from: version, to: version });
    }
    // What only those owners bring that came themselves.
    const reached = new Set([...found.values()].map(({ name, to }) => endKey(name, to)));
    for (const [key, { name, version }] of this.after)
      if (!this.before.has(key) && !reached.has(endKey(name, version)))
        add(name, this.nearestGone(name, version), version);
    return [...found.values()].sort((a, b) => (keyOf(a) < keyOf(b) ? -1 : 1));
  }

  /** The copy that went and is nearest below a version, else the first above it; null: none went. */
  private nearestGone(name: string, version: string): string | null {
    const at = requireVersion(version);
    const gone = [...this.before.values()]
      .filter((one) => one.name === name && !this.after.has(copyKey(one)))
      .map((one) => one.version)
      .sort((a, b) => compareVersions(requireVersion(a), requireVersion(b)));
    const below = gone.filter((one) => compareVersions(requireVersion(one), at) < 0);
    return below.at(-1) ?? gone[0] ?? null;
  }
}

/** The requirements of one owner in both, by name and then by kind. */
export function paired(
  before: readonly AnsweredRequirement[],
  after: readonly AnsweredRequirement[],
): readonly Pair[] {
  const left = new Map<string, AnsweredRequirement[]>();
  for (const one of before) left.set(one.name, [...(left.get(one.name) ?? []), one]);
  const pairs = after.map((one): Pair => {
    const same = left.get(one.name) ?? [];
    const at = same.findIndex(({ kind }) => kind === one.kind);
    return [same.splice(Math.max(0, at), 1)[0] ?? null, one];
  });
  return [...pairs, ...[...left.values()].flat().map((one): Pair => [one, null])];
}

/** The copy that answers a requirement; null: none. */
export function said(one: AnsweredRequirement | null): string | null {
  if (one === null || one.answer.kind === 'skipped') return null;
  return one.answer.kind === 'copy' ? one.answer.version : one.answer.folder;
}

/** The difference that a release is another archive. */
export function alteredOf({ name, version }: Pick<Copy, 'name' | 'version'>): LockDifference {
  return { name, from: version, to: version };
}

function keyOf({ name, from, to }: LockDifference): string {
  return `${name}\0${from ?? ''}\0${to ?? ''}`;
}

function endKey(name: string, end: string | null): string {
  return `${name}\0${end ?? ''}`;
}

function note(lists: Map<string, number[]>, key: string, one: number): void {
  const known = lists.get(key);
  if (known === undefined) lists.set(key, [one]);
  else known.push(one);
}

function projectsByFolder({ projects }: Resolution): ReadonlyMap<string, ProjectAnswers> {
  return new Map(projects.map((one) => [one.folder, one]));
}

function copiesByKey({ copies }: Resolution): ReadonlyMap<string, Copy> {
  return new Map(copies.map((copy) => [copyKey(copy), copy]));
}
