import type { PackageRecords } from '../../registry/index.js';
import { copyKey, type Copy, type Resolution } from './resolution.js';

/** A person's decision that the registry's integrity of a copy is the right one. */
export interface TakenIntegrity {
  readonly name: string;
  readonly version: string;
  /** What the registry said when the person decided: should it say something else by now, nothing is taken. */
  readonly integrity: string;
}

/** A copy of which lockfile and registry say different integrities. */
export interface DisputedCopy {
  readonly name: string;
  readonly version: string;
  readonly locked: string;
  readonly offered: string;
}

/** Copies of a lockfile whose integrity the registry says otherwise by now, in the lockfile's order. O(copies). */
export function disputedCopies(
  records: PackageRecords,
  { copies }: Resolution,
): readonly DisputedCopy[] {
  return copies.flatMap(({ name, version, integrity }) => {
    const offered = records.get(name)?.releases.find(({ text }) => text === version)
      ?.archive.integrity;
    // A copy that is only held on to, as of an earlier commit, has no integrity.
    if (offered === undefined || integrity === '' || offered === integrity) return [];
    return [{ name, version, locked: integrity, offered }];
  });
}

/** Lets copies keep the integrity that the lockfile has. */
export class HeldIntegrities {
  private readonly disputed = new WeakMap<Resolution, ReadonlyMap<string, DisputedCopy>>();

  constructor(private readonly records: PackageRecords) {}

  /** O(copies), and nothing where lockfile and registry agree on all that the lockfile has. */
  keep(
    resolution: Resolution,
    before: Resolution | null,
    taken: readonly TakenIntegrity[],
  ): Resolution {
    const disputed = before === null ? null : this.disputedOf(before);
    if (disputed === null || disputed.size === 0) return resolution;
    const copies = resolution.copies.map((copy): Copy => {
      const dispute = disputed.get(copyKey(copy));
      if (dispute === undefined || taken.some((one) => isTaken(one, dispute))) return copy;
      return { ...copy, integrity: dispute.locked };
    });
    return { ...resolution, copies };
  }

  private disputedOf(before: Resolution): ReadonlyMap<string, DisputedCopy> {
    const known = this.disputed.get(before);
    if (known !== undefined) return known;
    const found = disputedCopies(this.records, before);
    const byKey = new Map(found.map((dispute) => [copyKey(dispute), dispute]));
    this.disputed.set(before, byKey);
    return byKey;
  }
}

function isTaken(one: TakenIntegrity, { name, version, offered }: DisputedCopy): boolean {
  return one.name === name && one.version === version && one.integrity === offered;
}
