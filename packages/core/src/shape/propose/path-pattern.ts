import { globMatcher } from '../../text/index.js';

/** More folders than these are not named one by one. */
const MOST_LISTED = 8;

/**
 * A pattern that takes all of some paths: what differs among them is any, or, where that would take others of the same
 * kind too, one of those that there are.
 * @param others paths that it had better not take
 */
export function patternOf(paths: readonly string[], others: readonly string[]): string {
  if (paths.length === 1) return escaped(paths[0]!);
  const split = paths.map((path) => path.split('/'));
  const [first] = split as [string[]];
  if (split.some((parts) => parts.length !== first.length)) return `**/${lastOf(split)}`;
  const folders = (any: (parts: readonly string[]) => string): string =>
    [
      ...first.slice(0, -1).map((part, i) => {
        const parts = [...new Set(split.map((one) => one[i]!))].sort();
        return parts.length === 1 ? escaped(part) : any(parts);
      }),
      lastOf(split),
    ].join('/');
  const wide = folders(() => '*');
  const isTooWide = others.some((path) => !paths.includes(path) && globMatcher(wide)(path));
  if (!isTooWide) return wide;
  return folders((parts) =>
    parts.length > MOST_LISTED ? '*' : `{${parts.map(escaped).join(',')}}`,
  );
}

/** The name that all bear, or any of its ending. */
function lastOf(split: readonly (readonly string[])[]): string {
  const names = new Set(split.map((parts) => parts.at(-1)!));
  const [name] = names as unknown as [string];
  return names.size === 1 ? escaped(name) : `*.${escaped(name.split('.').at(-1)!)}`;
}

function escaped(part: string): string {
  return part.replace(/[*?[\]{}\\]/g, (one) => `\\${one}`);
}
