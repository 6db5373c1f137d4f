import { isSameRange, type Range } from '../version/index.js';
import type { RangeCache } from './range-cache.js';
import { copyKey, type AnsweredRequirement, type Resolution } from './resolution.js';

/** The name under which a requirement's demand goes: one for each owner, kind and package. */
export function demandOwner(owner: string, kind: string): string {
  return `${kind} of ${owner}`;
}

/** What the lockfile before answered, for demands that ask for the same as then. */
export class HeldAnswers {
  private readonly answers = new Map<
    string,
    { readonly range: string; readonly version: string }
  >();
  private readonly versions = new Map<string, Set<string>>();

  constructor(
    before: Resolution | null,
    private readonly ranges: RangeCache,
    refresh: 'all' | ReadonlySet<string>,
  ) {
    if (before === null || refresh === 'all') return;
    const keep = (owner: string, { kind, name, range, answer }: AnsweredRequirement): void => {
      if (refresh.has(name) || range === null || answer.kind !== 'copy') return;
      this.answers.set(`${demandOwner(owner, kind)} ${name}`, { range, version: answer.version });
    };
    for (const { folder, requirements } of before.projects) {
      for (const requirement of requirements) keep(folder, requirement);
    }
    for (const copy of before.copies) {
      for (const requirement of copy.requirements) keep(copyKey(copy), requirement);
      if (refresh.has(copy.name)) continue;
      const versions = this.versions.get(copy.name) ?? new Set();
      this.versions.set(copy.name, versions.add(copy.version));
    }
  }

  /** The version that answered this demand, if it asked for the same range. */
  version(owner: string, name: string, range: Range): string | null {
    const held = this.answers.get(`${owner} ${name}`);
    if (held === undefined) return null;
    return isSameRange(this.ranges.of(name, held.range), range) ? held.version : null;
  }

  versionsOf(name: string): ReadonlySet<string> {
    return this.versions.get(name) ?? new Set();
  }
}
