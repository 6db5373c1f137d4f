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

/** Compares by meaning. A null resolution has no copies. O(copies), and where they differ O(d log d). */
export function compareLocks(before: Resolution | null, after: Resolution): LockChange {
  const entered: CopyName[] = [];
  const left: CopyName[] = [];
  const moved: MovedCopy[] = [];
  const { old, now } = differing(before?.copies ?? [], after.copies);
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

type VersionsByName = ReadonlyMap<string, ReadonlySet<string>>;

/**
 * The versions on both sides of packages that may differ. A copy that is one object on both sides is in both; an engine keeps the
 * objects that it did not touch, so most are passed over at once. Both lists are sorted by name.
 */
function differing(
  before: readonly CopyName[],
  after: readonly CopyName[],
): { readonly old: VersionsByName; readonly now: VersionsByName } {
  const old = new Map<string, Set<string>>();
  const now = new Map<string, Set<string>>();
  const note = (lists: Map<string, Set<string>>, { name, version }: CopyName): void => {
    const known = lists.get(name);
    if (known === undefined) lists.set(name, new Set([version]));
    else known.add(version);
  };
  for (let i = 0, j = 0; i < before.length || j < after.length;) {
    // Taking both out of an array made for it would cost more than all the rest.
    const a = before[i];
    const b = after[j];
    if (a === b) {
      i++;
      j++;
    } else if (b === undefined || (a !== undefined && a.name < b.name)) {
      note(old, a!);
      i++;
    } else if (a === undefined || b.name < a.name) {
      note(now, b);
      j++;
    } else {
      note(old, a);
      note(now, b);
      i++;
      j++;
    }
  }
  return { old, now };
}
