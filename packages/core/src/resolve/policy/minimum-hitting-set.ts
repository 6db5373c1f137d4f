/**
 * A smallest set of numbers that has a member of each of these sets; of several as small, one with high numbers.
 * Branch and bound: it takes a set that is not hit yet and tries each of its members, the highest first.
 * @param sets none empty
 * Cost: exponential in the size of the answer at worst; the bound is the number of sets that share no member.
 */
export function minimumHittingSet(sets: readonly (readonly number[])[]): readonly number[] {
  let best: readonly number[] = [...new Set(sets.flat())];
  const extend = (chosen: readonly number[]): void => {
    const open = sets.filter((set) => !set.some((one) => chosen.includes(one)));
    if (open.length === 0) {
      if (chosen.length < best.length) best = chosen;
      return;
    }
    if (chosen.length + apart(open) >= best.length) return;
    const next = open.reduce((a, b) => (b.length < a.length ? b : a));
    for (const one of [...next].sort((a, b) => b - a)) extend([...chosen, one]);
  };
  extend([]);
  return [...best].sort((a, b) => a - b);
}

/** How many of the sets, taken greedily, share no member: so many members are needed at least. */
function apart(sets: readonly (readonly number[])[]): number {
  const taken = new Set<number>();
  let count = 0;
  for (const set of [...sets].sort((a, b) => a.length - b.length)) {
    if (set.some((one) => taken.has(one))) continue;
    for (const one of set) taken.add(one);
    count += 1;
  }
  return count;
}
