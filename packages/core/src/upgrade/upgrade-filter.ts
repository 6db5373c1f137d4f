import type { RequirementKind } from '../manifest/index.js';
import { globMatcher } from '../text/index.js';
import type { UpgradeRow } from './offers.js';

/** Which rows are looked at; what is absent does not matter. */
export interface UpgradeFilter {
  /** Also packages that no project requires itself. */
  readonly isAll?: boolean;
  /** Folder of a project that requires them itself. */
  readonly project?: string;
  /** Who answers for a project that requires them itself. */
  readonly owner?: string;
  /** A kind as which some project requires them. */
  readonly as?: RequirementKind;
  /** Lockstep sets alone. */
  readonly isSet?: boolean;
  /** Patterns of names of packages or sets; none: all. */
  readonly packages?: readonly string[];
  readonly except?: readonly string[];
}

/** O(rows x patterns). */
export function filteredRows(
  rows: readonly UpgradeRow[],
  { isAll = false, project, owner, as, isSet = false, packages = [], except = [] }: UpgradeFilter,
): readonly UpgradeRow[] {
  const isNamed = globMatcher(packages);
  const isExcepted = globMatcher(except);
  return rows.filter((row) => {
    const names = [row.name, ...row.packages];
    return (
      (isAll || row.isDirect) &&
      (project === undefined || row.projects.includes(project)) &&
      (owner === undefined || row.owners.includes(owner)) &&
      (as === undefined || row.kinds.includes(as)) &&
      (!isSet || row.isSet) &&
      (packages.length === 0 || names.some(isNamed)) &&
      !names.some(isExcepted)
    );
  });
}
