import type { Catalog } from '../model/catalog.js';

/** Up to three versions one by one, more as a span with their number. @param releases of one package, ascending */
export function listVersions({ releases: all }: Catalog, releases: readonly number[]): string {
  const texts = releases.map((release) => all[release]!.text);
  if (texts.length <= 3) return texts.join(', ');
  return `${texts[0]} to ${texts.at(-1)} (${texts.length} releases)`;
}

export function count(n: number, noun: string): string {
  return `${n} ${noun}${n === 1 ? '' : 's'}`;
}
