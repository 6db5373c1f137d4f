/** A commit that changed the lockfile, with the copies that came and went by it, by name and version. */
export interface LockStep {
  readonly commit: string;
  /** Of the lockfile; null: it could not be read. */
  readonly sum: string | null;
  readonly entered: readonly string[];
  readonly left: readonly string[];
}

/** Where a lockfile stands in a branch's history. */
export interface LockStand {
  readonly sum: string;
  /** `here`: it is the head's; `elsewhere`: no commit of the branch has it. */
  readonly state: 'here' | 'behind' | 'elsewhere';
  /** The last commit that has it. */
  readonly commit: string | null;
  /** Commits since then that changed the lockfile. */
  readonly behind: number;
  /** Copies that have come since, and that have gone. */
  readonly lacks: readonly string[];
  readonly keeps: readonly string[];
}

/**
 * Where a lockfile's sum stands in the branch's history, and which copies have come and gone since.
 * @param head the sum of the head's lockfile; null: it has none
 * @param steps oldest first
 * Cost: O(changes since).
 */
export function lockStandOf(
  sum: string,
  head: string | null,
  steps: readonly LockStep[],
): LockStand {
  const at = steps.findLastIndex((one) => one.sum === sum);
  const commit = steps[at]?.commit ?? null;
  const nothing = { behind: 0, lacks: [], keeps: [] };
  if (sum === head) return { sum, state: 'here', commit, ...nothing };
  if (at < 0) return { sum, state: 'elsewhere', commit: null, ...nothing };
  const later = steps.slice(at + 1);
  const lacks = new Set<string>();
  const keeps = new Set<string>();
  for (const { entered, left } of later) {
    for (const name of left) if (!lacks.delete(name)) keeps.add(name);
    for (const name of entered) if (!keeps.delete(name)) lacks.add(name);
  }
  return {
    sum,
    state: 'behind',
    commit,
    behind: later.length,
    lacks: [...lacks].sort(),
    keeps: [...keeps].sort(),
  };
}

/**
 * By name and version of each copy that stands after all steps, the index of the step that brought it.
 * O(changes of all steps).
 */
export function broughtBy(
  steps: readonly Pick<LockStep, 'entered' | 'left'>[],
): ReadonlyMap<string, number> {
  const since = new Map<string, number>();
  steps.forEach(({ entered, left }, i) => {
    for (const name of left) since.delete(name);
    for (const name of entered) since.set(name, i);
  });
  return since;
}
