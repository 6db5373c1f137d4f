/** What a search looks at. */
interface Named {
  readonly name: string;
  readonly summary: string;
}

/**
 * The packages whose name or summary has all words, in either case: the one named so first, then those whose name begins so,
 * then those whose name has the words, then the rest; each by name. O(packages x words).
 */
export function matchingPackages<T extends Named>(
  packages: Iterable<T>,
  query: string,
): readonly T[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  const whole = words.join(' ');
  const ranked: (readonly [rank: number, one: T])[] = [];
  for (const one of packages) {
    const name = one.name.toLowerCase();
    const text = `${name} ${one.summary.toLowerCase()}`;
    if (words.every((word) => text.includes(word))) ranked.push([rankOf(name, whole, words), one]);
  }
  return ranked.sort(([a, x], [b, y]) => a - b || (x.name < y.name ? -1 : 1)).map(([, one]) => one);
}

function rankOf(name: string, whole: string, words: readonly string[]): number {
  if (name === whole) return 0;
  if (name.startsWith(whole)) return 1;
  return words.every((word) => name.includes(word)) ? 2 : 3;
}
