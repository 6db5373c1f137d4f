import type { Resolution } from '../resolve/index.js';
import {
  versionStep,
  requireVersion,
  compareVersions,
  type VersionStep,
} from '../version/index.js';

/** One copy as it is spoken of. */
export interface CopyName {
  readonly name: string;
  readonly version: string;
}

export interface MovedCopy {
  readonly name: string;
  readonly from: string;
  readonly to: string;
  readonly step: VersionStep;
  readonly direction: 'up' | 'down';
}

/** How the copies of two lockfiles differ. All lists are sorted by name and version. */
export interface LockChange {
  readonly entered: readonly CopyName[];
  readonly left: readonly CopyName[];
  /** A package that lost one copy and got one. */
  readonly moved: readonly MovedCopy[];
}

/** Compares by meaning. A null resolution has no copies. O(copies log copies). */
export function compareLocks(before: Resolution | null, after: Resolution): LockChange {
  const entered: CopyName[] = [];
  const left: CopyName[] = [];
  const moved: MovedCopy[] = [];
  // A copy that is one object on both sides is in both; an engine keeps the objects that it did not touch.
  const there = new Set(before?.copies);
  const here = new Set(after.copies);
  const old = versionsByName(before?.copies.filter((copy) => !here.has(copy)) ?? []);
  const now = versionsByName(after.copies.filter((copy) => !there.has(copy)));
  for (const name of [...new Set([...old.keys(), ...now.keys()])].sort()) {
    const out = [...(old.get(name) ?? [])].filter((version) => !now.get(name)?.has(version));
    const come = [...(now.get(name) ?? [])].filter((version) => !old.get(name)?.has(version));
    if (out.length === 1 && come.length === 1) {
      const [from, to] = [out[0]!, come[0]!];
      const [a, b] = [requireVersion(from), requireVersion(to)];
      moved.push({
        name,
        from,
        to,
        step: versionStep(a, b),
        direction: compareVersions(a, b) < 0 ? 'up' : 'down',
      });
    } else {
      left.push(...out.map((version) => ({ name, version })));
      entered.push(...come.map((version) => ({ name, version })));
    }
  }
  return { entered, left, moved };
}

function versionsByName(copies: readonly CopyName[]): ReadonlyMap<string, ReadonlySet<string>> {
  const versions = new Map<string, Set<string>>();
  for (const { name, version } of copies) {
    versions.set(name, (versions.get(name) ?? new Set()).add(version));
  }
  return versions;
}
