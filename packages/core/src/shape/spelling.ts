import {
  isSameRange,
  isSameVersion,
  nextRelease,
  parseRange,
  parseVersion,
  printRange,
  printVers,
  printVersion,
  readingOf,
  releaseBefore,
  requireRange,
  type Range,
  type Version,
  type VersionScheme,
} from '../version/index.js';

/** How a foreign file writes what is required. */
export interface Spelling {
  readonly ranges: 'semver' | 'interval' | 'vers';
  /** The scheme of the versions in it. */
  readonly versions: VersionScheme;
  /** What a version by itself means; null: as ranges are read. */
  readonly bare: 'exact' | 'at-least' | 'caret' | null;
  /** How it says the shared version, with `{name}` for the package; null: by the same range. */
  readonly shared: string | null;
  /** How it says a project of the workspace; null: by the project's name. */
  readonly workspace: string | null;
}

export const PLAIN_SPELLING: Spelling = {
  ranges: 'semver',
  versions: 'semver',
  bare: null,
  shared: null,
  workspace: null,
};

const SIGNS = { exact: '', 'at-least': '>=', caret: '^' } as const;

/**
 * What a text says of a package: `shared`, `workspace`, or a range as our own files write ranges. Null: it is none of
 * these, but a path, an address, an alias or another thing that this tool does not resolve.
 */
export function writtenOf(spelling: Spelling, name: string, text: string): string | null {
  const said = text.trim();
  if (spelling.shared !== null && said === spelling.shared.replaceAll('{name}', name))
    return 'shared';
  if (spelling.workspace !== null && said === spelling.workspace.replaceAll('{name}', name))
    return 'workspace';
  if (spelling.bare !== null && parseVersion(said, spelling.versions).ok)
    return `${SIGNS[spelling.bare]}${said}`;
  if (spelling.ranges === 'interval') return rangeOfIntervals(said, spelling.versions);
  if (spelling.ranges === 'vers' && !said.startsWith('vers:')) return null;
  return parseRange(said, readingOf(spelling.versions, 'always')).ok ? said : null;
}

/**
 * The text by which a file says `shared`, `workspace` or a range; null where its spelling has no text for it.
 * `writtenOf` gives the same meaning back.
 */
export function spelt(spelling: Spelling, name: string, written: string): string | null {
  if (written === 'shared') return spelling.shared?.replaceAll('{name}', name) ?? null;
  if (written === 'workspace')
    return spelling.workspace?.replaceAll('{name}', name) ?? spelt(spelling, name, '*');
  const reading = readingOf(spelling.versions, 'named');
  const wanted = requireRange(written, reading);
  const candidates = [
    ...bareTexts(spelling, written),
    ...(spelling.ranges === 'semver' ? [written, `=${written}`] : []),
    ...(spelling.ranges === 'vers' ? [printVers(wanted, reading)] : []),
    ...(spelling.ranges === 'interval' ? [intervalText(wanted, spelling.versions)] : []),
  ];
  return (
    candidates.find((text): text is string => {
      const back = text === null ? null : writtenOf(spelling, name, text);
      if (back === null || back === 'shared' || back === 'workspace') return false;
      return isSameRange(requireRange(back, reading), wanted);
    }) ?? null
  );
}

function bareTexts({ bare, versions }: Spelling, written: string): readonly string[] {
  if (bare === null) return [];
  const sign = SIGNS[bare];
  const version = written.slice(sign.length);
  return written.startsWith(sign) && parseVersion(version, versions).ok ? [version] : [];
}

/*
 * intervals = interval *( "," interval )
 * interval  = ( "[" / "(" ) [ version ] "," [ version ] ( "]" / ")" ) / "[" version "]"
 * A version may lack its last numbers, which then are 0.
 */
const INTERVAL = /\s*([[(])\s*([^,[\]()\s]*)\s*(?:(,)\s*([^,[\]()\s]*)\s*)?([\])])\s*/y;

/** Interval notation as a range of our own; null: it is none. O(length). */
export function rangeOfIntervals(text: string, scheme: VersionScheme = 'semver'): string | null {
  const parts: string[] = [];
  for (let at = 0; ;) {
    INTERVAL.lastIndex = at;
    const match = INTERVAL.exec(text);
    if (match === null) return null;
    const [whole, open, low = '', comma, high = '', close] = match;
    const part =
      comma === undefined
        ? exact(open!, low, close!, scheme)
        : between(open!, low, high, close!, scheme);
    if (part === null) return null;
    parts.push(part);
    at += whole.length;
    if (at >= text.length) break;
    if (text[at] !== ',') return null;
    at += 1;
  }
  const range = parts.join(' || ');
  return parseRange(range, readingOf(scheme, 'always')).ok ? range : null;
}

function exact(open: string, version: string, close: string, scheme: VersionScheme): string | null {
  return open === '[' && close === ']' ? padded(version, scheme) : null;
}

function between(
  open: string,
  low: string,
  high: string,
  close: string,
  scheme: VersionScheme,
): string | null {
  const [from, below] = [padded(low, scheme), padded(high, scheme)];
  if ((low !== '' && from === null) || (high !== '' && below === null)) return null;
  const bounds = [
    ...(from === null ? [] : [`${open === '[' ? '>=' : '>'}${from}`]),
    ...(below === null ? [] : [`${close === ']' ? '<=' : '<'}${below}`]),
  ];
  return bounds.length === 0 ? '*' : bounds.join(' ');
}

function padded(version: string, scheme: VersionScheme): string | null {
  if (version === '') return null;
  const [, numbers = '', rest = ''] = /^(\d+(?:\.\d+)*)(.*)$/.exec(version) ?? [];
  const count = numbers.split('.').length;
  const whole = `${numbers}${'.0'.repeat(Math.max(0, 3 - count))}${rest}`;
  return parseVersion(whole, scheme).ok ? whole : null;
}

/** A range in interval notation; null where its prereleases cannot be said in it. */
export function intervalText(range: Range, scheme: VersionScheme): string | null {
  const text = printRange(range, readingOf(scheme, 'named'));
  if (text === null) return null;
  const parts = range.releases.map(({ from, below }) => {
    if (below !== null && isSameVersion(below, nextRelease(from, scheme)))
      return `[${printVersion(from)}]`;
    return `${low(from, scheme)},${high(below, scheme)}`;
  });
  return parts.join(',');
}

function low(from: Version, scheme: VersionScheme): string {
  if (from.major === 0 && from.minor === 0 && from.patch === 0 && from.further.length === 0)
    return '(';
  const last = releaseBefore(from, scheme);
  return last === null ? `[${printVersion(from)}` : `(${printVersion(last)}`;
}

function high(below: Version | null, scheme: VersionScheme): string {
  if (below === null) return ')';
  const last = releaseBefore(below, scheme);
  return last === null ? `${printVersion(below)})` : `${printVersion(last)}]`;
}
