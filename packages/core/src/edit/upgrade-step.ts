import { requirementsOn } from '../alignment/index.js';
import { rangeContains, requireVersion } from '../version/index.js';
import type { Requirement, Workspace } from '../workspace/index.js';
import { rangeLike } from './level-edits.js';

/** A package that goes from one release that is in use to another. */
export interface Move {
  readonly package: string;
  readonly from: string;
  readonly to: string;
}

/** What has to be written so that a package can move. */
export interface UpgradeStep {
  /** The new shared version; null: it stays, or there is none. */
  readonly shared: string | null;
  /** Requirements that write a range of their own, with the one that they are to write. */
  readonly own: readonly (readonly [Requirement, range: string])[];
}

/**
 * Only requirements that admit the release in use and not the other are written anew, in the manner in which they are
 * written; an exception stays as it was granted.
 * @param requirements on the package, where they are known. Without them O(requirements of all projects)
 */
export function upgradeStep(
  workspace: Workspace,
  move: Move,
  requirements: readonly Requirement[] = requirementsOn(workspace, move.package),
): UpgradeStep {
  const { package: name, to } = move;
  const [old, next] = [requireVersion(move.from), requireVersion(to)];
  const narrow = requirements.filter(
    ({ meaning }) =>
      meaning.kind === 'range' &&
      rangeContains(meaning.range, old) &&
      !rangeContains(meaning.range, next),
  );
  const isShared = ({ written, isEverywhere }: Requirement): boolean =>
    written === 'shared' || isEverywhere;
  const agreed = workspace.agreements.get(name)?.text ?? null;
  return {
    shared: narrow.some(isShared) ? rangeLike(agreed, to) : null,
    own: narrow
      .filter((one) => !isShared(one) && !isExcepted(workspace, one))
      .map((one) => [one, rangeLike(one.written, to)] as const),
  };
}

function isExcepted({ exceptions, projects }: Workspace, { project, name }: Requirement): boolean {
  const bears = projects.find(({ folder }) => folder === project)?.name;
  return exceptions.some(
    (line) => line.package === name && (line.project === project || line.project === bears),
  );
}
