import { reverseLinks, linksOf, distancesFrom, FAR } from '../../links/index.js';
import { policyOf, type CopiesPolicy, type Policy } from '../../manifest/index.js';
import type { Catalog } from '../model/catalog.js';
import type { Settlement } from '../choose/settlement.js';

/** The packages that may not have any number of copies, and those that bear on them. */
export class BoundPackages {
  /** Any of whose releases may bring in a bound package, at any depth; itself included. */
  readonly isRelevant: Uint8Array;
  private readonly policies: readonly CopiesPolicy[];

  /** @param isAllRelevant whether every package is looked at, bound or not. O(packages + needs). */
  constructor(
    private readonly catalog: Catalog,
    policy: Policy,
    isAllRelevant: boolean,
  ) {
    this.policies = catalog.names.map((name) => policyOf(policy, name).copies);
    const bound = this.policies.flatMap((copies, i) => (copies === 'any' ? [] : [i]));
    const distances =
      bound.length === 0 ? null : distancesFrom(reverseLinks(packageLinks(catalog)), bound);
    this.isRelevant = Uint8Array.from(catalog.names, (_, i) =>
      Number(isAllRelevant || (distances !== null && distances[i] !== FAR)),
    );
  }

  policyOf(packageNumber: number): CopiesPolicy {
    return this.policies[packageNumber]!;
  }

  /** Releases in one slot may not be copies together; null: the release may stand beside any other. */
  slotOf(release: number): string | null {
    const packageNumber = this.catalog.packageOf[release]!;
    switch (this.policies[packageNumber]!) {
      case 'any':
        return null;
      case 'one':
        return `${packageNumber}`;
      case 'one-per-major':
        return `${packageNumber} ${this.catalog.releases[release]!.version.major}`;
    }
  }

  /** Do no two copies stand in one slot? */
  isHeededBy(settlement: Settlement): boolean {
    return this.policies.every((policy, packageNumber) => {
      if (policy === 'any') return true;
      const slots = settlement.copiesOf(packageNumber).map((copy) => this.slotOf(copy));
      return new Set(slots).size === slots.length;
    });
  }
}

function packageLinks({ names, firstRelease, firstNeed, neededPackage }: Catalog) {
  return linksOf(
    names.map((_, p) => [
      ...new Set(
        neededPackage.subarray(firstNeed[firstRelease[p]!]!, firstNeed[firstRelease[p + 1]!]!),
      ),
    ]),
  );
}
