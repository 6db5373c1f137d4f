/**
 * The file in which a package's document is kept: its name, with what file systems do not take written in percent signs.
 * `@crew/firn` is in `%40crew%2Ffirn.json`.
 */
export function documentFile(name: string): string {
  return `${name.replace(/[^\p{L}\p{M}\p{Nd}._~-]/gu, encodeURIComponent)}.json`;
}
