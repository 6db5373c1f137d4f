/** Each copy of a package has an ink of its own: the newest is in force, the others stand out from it. */
const INKS = ['var(--agreed)', 'var(--off)', 'var(--caution)', 'var(--pencil)'] as const;

/** @param index of the copy, oldest first */
export function copyInk(index: number, copies: number): string {
  return INKS[Math.min(copies - 1 - index, INKS.length - 1)] ?? INKS[0];
}

/** The ink of what leads to one copy alone; that of the page where it leads to several or is no such line. */
export function inkOf(leadsTo: readonly number[], copies: number): string {
  const [only, ...others] = leadsTo;
  return only === undefined || others.length > 0 || copies < 1
    ? 'var(--ink-3)'
    : copyInk(only, copies);
}
