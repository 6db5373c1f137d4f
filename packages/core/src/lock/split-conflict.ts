import type { Span } from '../text/index.js';

const OURS = '<<<<<<<';
const BASE = '|||||||';
const MIDDLE = '=======';
const THEIRS = '>>>>>>>';

/**
 * Both sides of a text that carries git's merge-conflict markers; null for a text without any. A
 * marker that stands out of turn belongs to both sides, so that reading reports it.
 */
export function splitConflict(
  text: string,
): { readonly ours: string; readonly theirs: string; readonly span: Span } | null {
  let span: Span | null = null;
  let side: 'both' | 'ours' | 'base' | 'theirs' = 'both';
  const ours: string[] = [];
  const theirs: string[] = [];
  let start = 0;
  for (const line of text.split('\n')) {
    const is = (marker: string): boolean => line.startsWith(marker);
    if (is(OURS) && side === 'both') {
      span ??= [start, start + line.length];
      side = 'ours';
    } else if (is(BASE) && side === 'ours') side = 'base';
    else if (is(MIDDLE) && (side === 'ours' || side === 'base')) side = 'theirs';
    else if (is(THEIRS) && side === 'theirs') side = 'both';
    else {
      if (side === 'both' || side === 'ours') ours.push(line);
      if (side === 'both' || side === 'theirs') theirs.push(line);
    }
    start += line.length + 1;
  }
  return span === null ? null : { ours: ours.join('\n'), theirs: theirs.join('\n'), span };
}
