/**
 * Chooses the fewest candidates so that every demand admits at least one of the chosen, and among
 * those choices the one whose candidates stand first in `preference`, compared one after another.
 *
 * Where every demand admits an unbroken run of candidates, the count comes from the greedy choice by
 * interval ends, which is exact; otherwise from a search that always splits on the demand with the
 * fewest candidates, exact too but exponential in the answer.
 * @param demands for each demand the ascending indices it admits, none empty
 * @param preference all indices that occur, best first
 * @returns the chosen indices in the order of `preference`
 * Source: D. S. Hochbaum and W. Maass, Fast approximation algorithms for a nonconvex covering problem,
 * J. Algorithms 8(3), 1987 (stabbing intervals on a line).
 */
export function fewestStabs(
  demands: readonly (readonly number[])[],
  preference: readonly number[],
): readonly number[] {
  let open = demands;
  let left = countStabs(open);
  const chosen: number[] = [];
  for (const candidate of preference) {
    if (left === 0) break;
    const rest = open.filter((demand) => !demand.includes(candidate));
    if (rest.length === open.length || countStabs(rest) !== left - 1) continue;
    chosen.push(candidate);
    open = rest;
    left -= 1;
  }
  return chosen;
}

/** How many candidates `fewestStabs` would choose. */
export function countStabs(demands: readonly (readonly number[])[]): number {
  if (demands.length === 0) return 0;
  const areRuns = demands.every((demand) => demand.at(-1)! - demand[0]! === demand.length - 1);
  if (areRuns) return countRunStabs(demands);
  for (let limit = 1; ; limit++) if (canStab(demands, limit)) return limit;
}

/** Greedy: the run that ends first takes its last candidate. O(n log n). */
function countRunStabs(runs: readonly (readonly number[])[]): number {
  const byEnd = [...runs].sort((a, b) => a.at(-1)! - b.at(-1)!);
  let last = -1;
  let count = 0;
  for (const run of byEnd) {
    if (run[0]! <= last) continue;
    last = run.at(-1)!;
    count += 1;
  }
  return count;
}

function canStab(demands: readonly (readonly number[])[], limit: number): boolean {
  if (demands.length === 0) return true;
  if (limit === 0) return false;
  const narrowest = demands.reduce((best, demand) => (demand.length < best.length ? demand : best));
  return narrowest.some((candidate) =>
    canStab(
      demands.filter((demand) => !demand.includes(candidate)),
      limit - 1,
    ),
  );
}
