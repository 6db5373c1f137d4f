import { answerableSkips, lockFaults, type LockReason } from '../lock/index.js';
import type { Resolution } from '../resolve/index.js';
import type { Workspace } from '../workspace/index.js';
import { LockDifferences, type LockDifference } from './lock-differences.js';
import { Mixing, skipKey } from './mixing.js';

/** A lockfile between two others. */
export interface MixedLock {
  readonly resolution: Resolution;
  /** The differences that it has: the chosen ones that have an effect, and those that they cannot do without. */
  readonly has: ReadonlySet<number>;
}

/**
 * Mixes two lockfiles: of their differences any part can be chosen, and the result is a consistent lockfile that has
 * this part of the later one and is otherwise as the earlier one. An owner that only one of the two has takes the copy
 * that is in place, if its range admits it; a difference that cannot stand without others brings them along. Projects
 * are those of the later one.
 */
export class LockMix {
  private readonly of: LockDifferences;
  /** Faults of the ends; a mixture of them need not be better than they are. */
  private readonly knownFaults: ReadonlySet<string>;
  private readonly endSkips: ReadonlySet<string>;

  /** @param workspace whose settings count. O(size of both) */
  constructor(
    before: Resolution,
    later: Resolution,
    private readonly workspace: Workspace,
  ) {
    this.of = new LockDifferences(before, later);
    this.endSkips = new Set(
      [before, later].flatMap((end) => answerableSkips(end, workspace).map(skipKey)),
    );
    const ends = [this.mixed([]), this.mixed(this.of.list.keys())];
    this.knownFaults = new Set(
      ends.flatMap((end) =>
        end === null ? [] : lockFaults(end.resolution, workspace).map(faultKey),
      ),
    );
  }

  get differences(): readonly LockDifference[] {
    return this.of.list;
  }

  /**
   * The lockfile with these differences and whatever they cannot be had without.
   * @returns null where none was found
   * O(size), for each difference that may have to be brought along
   */
  with(chosen: Iterable<number>): MixedLock | null {
    const wanted = new Set(chosen);
    for (;;) {
      const mixed = this.mixed(wanted);
      if (mixed === null) return null;
      const faults = this.faultsOf(mixed);
      if (faults.length === 0) return mixed;
      for (const one of mixed.has) wanted.add(one);
      const more = this.namedIn(faults, wanted);
      if (more.length === 0) return null;
      for (const one of more) {
        const repaired = this.mixed([...wanted, one]);
        if (repaired !== null && this.faultsOf(repaired).length === 0) return repaired;
      }
      for (const one of more) wanted.add(one);
    }
  }

  private mixed(chosen: Iterable<number>): MixedLock | null {
    const mixing = new Mixing(this.of, this.workspace, new Set(chosen), this.endSkips);
    const resolution = mixing.resolution();
    return resolution === null ? null : { resolution, has: mixing.used };
  }

  /** A rule that the mixture breaks, though both ends keep it. */
  private faultsOf({ resolution }: MixedLock): readonly LockReason[] {
    return lockFaults(resolution, this.workspace).filter(
      (fault) => !this.knownFaults.has(faultKey(fault)),
    );
  }

  /** Differences of the packages that faults are about, and that are not wanted yet. */
  private namedIn(faults: readonly LockReason[], wanted: ReadonlySet<number>): readonly number[] {
    const names = new Set(faults.flatMap(({ about }) => about));
    return this.of.list.flatMap(({ name }, i) => (names.has(name) && !wanted.has(i) ? [i] : []));
  }
}

function faultKey({ code, about }: LockReason): string {
  return [code, ...about].join('\0');
}
