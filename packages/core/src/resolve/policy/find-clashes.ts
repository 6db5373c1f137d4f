import type { Requirement } from '../../workspace/index.js';
import type { Clash } from './search-model.js';

/** How many parts of a workspace are tried for further clashes, and how many clashes are told. */
const MOST_PARTS = 40;
const MOST_CLASHES = 8;

/**
 * All ways in which requirements clash: each set of them that cannot be met together and has no smaller set in it
 * that cannot. After one is found, the rest is tried without each of its members in turn, and so on.
 * Source: R. Reiter, A theory of diagnosis from first principles, Artificial Intelligence 32, 1987.
 * @param clashWithout a smallest clash among the requirements without these, or null
 * @returns up to a limit; the first is found without leaving anything out
 */
export function findClashes(
  first: Clash,
  clashWithout: (removed: ReadonlySet<Requirement>) => Clash | null,
): readonly Clash[] {
  const found: Clash[] = [first];
  const tried = new Set<string>();
  const numbers = new Map<Requirement, number>();
  const numberOf = (one: Requirement): number => {
    const known = numbers.get(one) ?? numbers.size;
    numbers.set(one, known);
    return known;
  };
  const open: ReadonlySet<Requirement>[] = [new Set()];
  let parts = 0;
  for (let removed = open.shift(); removed !== undefined; removed = open.shift()) {
    const without = removed;
    const isThere = (clash: Clash): boolean =>
      clash.every(({ requirements }) => !requirements.some((one) => without.has(one)));
    let clash = found.find(isThere) ?? null;
    if (clash === null) {
      if (parts >= MOST_PARTS || found.length >= MOST_CLASHES) break;
      parts += 1;
      clash = clashWithout(without);
      if (clash === null) continue;
      found.push(clash);
    }
    for (const { requirements } of clash) {
      const next = new Set([...without, ...requirements]);
      const key = [...next]
        .map(numberOf)
        .sort((a, b) => a - b)
        .join(' ');
      if (tried.has(key)) continue;
      tried.add(key);
      open.push(next);
    }
  }
  return found;
}
