import type { PackageRecord, PackageRecords, Release } from '../registry/index.js';
import { isPrerelease } from '../version/index.js';

/** Packages that look as if they always carry the same version. */
export interface SetSuggestion {
  /** What their names begin with alike, else the first of them. */
  readonly name: string;
  /** Sorted. */
  readonly packages: readonly string[];
  readonly why: 'released together' | 'require each other at equal versions';
}

/** How many releases two packages must have had together. */
const FEWEST_TOGETHER = 3;
/** Of all their releases, how many must have been. */
const SHARE_TOGETHER = 0.8;

/**
 * Finds packages that are released together, version for version on the same day, or that require each other at
 * exactly their own version, in at least half of their releases.
 * O(releases of the named packages + pairs of packages that shared a release).
 */
export function suggestSets(
  records: PackageRecords,
  names: readonly string[],
): readonly SetSuggestion[] {
  const known = [...names].sort().flatMap((name) => records.get(name) ?? []);
  const groups = new Groups(known.map(({ name }) => name));
  const equal = new Set<string>();
  for (const record of known) {
    for (const other of requiredAtOwnVersion(record)) {
      if (!groups.has(other)) continue;
      groups.join(record.name, other);
      equal.add(record.name).add(other);
    }
  }
  for (const [a, b] of releasedTogether(known)) groups.join(a, b);
  return groups.all().map((packages) => ({
    name: commonStart(packages),
    packages,
    why: packages.every((name) => equal.has(name))
      ? 'require each other at equal versions'
      : 'released together',
  }));
}

function regular({ releases }: PackageRecord): readonly Release[] {
  return releases.filter((release) => !release.isWithdrawn && !isPrerelease(release.version));
}

function requiredAtOwnVersion(record: PackageRecord): readonly string[] {
  const times = new Map<string, number>();
  const releases = regular(record);
  for (const { text, needs } of releases)
    for (const { name, range } of needs)
      if (range === text || range === `=${text}`) times.set(name, (times.get(name) ?? 0) + 1);
  return [...times].flatMap(([name, count]) =>
    count >= FEWEST_TOGETHER && count * 2 >= releases.length ? [name] : [],
  );
}

function releasedTogether(known: readonly PackageRecord[]): readonly (readonly [string, string])[] {
  const byMoment = new Map<string, string[]>();
  const sizes = new Map<string, number>();
  for (const record of known) {
    const releases = regular(record);
    sizes.set(record.name, releases.length);
    for (const { text, published } of releases) {
      const moment = `${text} ${published.slice(0, 10)}`;
      const there = byMoment.get(moment);
      if (there === undefined) byMoment.set(moment, [record.name]);
      else there.push(record.name);
    }
  }
  const together = new Map<string, number>();
  for (const names of byMoment.values()) {
    for (const [i, a] of names.entries())
      for (const b of names.slice(i + 1)) {
        const pair = `${a}\n${b}`;
        together.set(pair, (together.get(pair) ?? 0) + 1);
      }
  }
  return [...together].flatMap(([pair, count]) => {
    const [a, b] = pair.split('\n') as [string, string];
    const all = sizes.get(a)! + sizes.get(b)! - count;
    return count >= FEWEST_TOGETHER && count >= SHARE_TOGETHER * all ? [[a, b] as const] : [];
  });
}

/** Names in groups that grow together. */
class Groups {
  private readonly groupOf: Map<string, Set<string>>;

  constructor(names: readonly string[]) {
    this.groupOf = new Map(names.map((name) => [name, new Set([name])]));
  }

  has(name: string): boolean {
    return this.groupOf.has(name);
  }

  join(a: string, b: string): void {
    const [one, other] = [this.groupOf.get(a)!, this.groupOf.get(b)!];
    if (one === other) return;
    for (const name of other) {
      one.add(name);
      this.groupOf.set(name, one);
    }
  }

  /** Those of two and more, each sorted, in the order of their first names. */
  all(): readonly (readonly string[])[] {
    return [...new Set(this.groupOf.values())]
      .filter(({ size }) => size > 1)
      .map((group) => [...group].sort())
      .sort(([a], [b]) => (a! < b! ? -1 : 1));
  }
}

function commonStart(names: readonly string[]): string {
  const [first = ''] = names;
  let length = first.length;
  for (const name of names) while (!name.startsWith(first.slice(0, length))) length -= 1;
  const start = first.slice(0, length).replace(/[-._]+$/, '');
  return start === '' ? first : start;
}
