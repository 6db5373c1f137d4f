import { isNameInAnyForm, type Span } from '../../text/index.js';
import { parseRange, parseVersion } from '../../version/index.js';
import { rangeOfIntervals } from '../spelling.js';
import { found, readQuery, type Query } from '../query.js';
import {
  sourceAt,
  type SourceNode,
  type SourcePath,
  type SourceScalar,
  type SourceTable,
} from '../syntax/index.js';

/** A table or list in one file in which requirements seem to stand. */
export interface Candidate {
  /** The query that leads there, in every file alike: indices are `[*]`. */
  readonly at: string;
  /** Within an item, its name; null: keys are names. */
  readonly name: string | null;
  /** Within an item or value, its range; null: the value itself. */
  readonly range: string | null;
  readonly entries: readonly CandidateEntry[];
}

export interface CandidateEntry {
  readonly name: string;
  readonly text: string;
  readonly span: Span;
}

/** Keys that say something of the thing itself, and are no packages. */
const OWN_WORDS = new Set([
  'version',
  'name',
  'id',
  'format',
  'kind',
  'title',
  'at',
  'schema',
  'release',
]);

/** Keys by which an entry says its own range, rather than that of a package of this name. */
const RANGE_WORDS = new Set(['range', 'version', 'versions', 'wanted', 'at', 'takes', 'is']);

/** What a text is like: a range, a version by itself, or neither. */
export function likeness(text: string): 'range' | 'version' | 'interval' | null {
  const said = text.trim();
  if (said === '') return null;
  if (parseVersion(said).ok) return 'version';
  // A number by itself counts something as often as it is a version.
  if (/^\d+(?:\.\d+)?$/.test(said)) return null;
  if (/^[[(]/.test(said) && rangeOfIntervals(said) !== null) return 'interval';
  return parseRange(said, 'always').ok ? 'range' : null;
}

/**
 * All tables and lists in a tree in which requirements seem to stand, the outermost first. O(size).
 * @param isXml keys that begin with `@` are attributes
 */
export function candidatesIn(root: SourceNode, isXml: boolean): readonly Candidate[] {
  const found = new Map<string, Candidate>();
  const add = (candidate: Candidate): void => {
    const key = [candidate.at, candidate.name, candidate.range].join('\n');
    const before = found.get(key);
    found.set(key, {
      ...candidate,
      entries: [...(before?.entries ?? []), ...candidate.entries],
    });
  };
  const walk = (node: SourceNode, path: SourcePath): void => {
    if (node.kind === 'table') {
      const own = tableCandidate(node, path, isXml);
      if (own !== null) add(own);
      else for (const [key, { value }] of node.entries) walk(value, [...path, key]);
    } else if (node.kind === 'list') {
      const own = listCandidate(node.items, path);
      if (own !== null) add(own);
      else node.items.forEach((item, i) => walk(item, [...path, i]));
    }
  };
  walk(root, []);
  return [...found.values()];
}

function tableCandidate(table: SourceTable, path: SourcePath, isXml: boolean): Candidate | null {
  const entries = [...table.entries.values()];
  if (
    entries.length === 0 ||
    entries.some(({ key }) => !isNameInAnyForm(key) || (isXml && key.startsWith('@')))
  )
    return null;
  if (entries.some(({ key }) => OWN_WORDS.has(key.toLowerCase()))) return null;
  const plain = entries.flatMap(({ key, span, value }) =>
    value.kind === 'scalar' && typeof value.value === 'string'
      ? [{ name: key, text: value.text, span }]
      : [],
  );
  const good = plain.filter(({ text }) => likeness(text) !== null);
  if (plain.length === entries.length && good.length > 0 && good.length * 2 >= entries.length)
    return { at: queryOf(path), name: null, range: null, entries: plain };
  // Values may be tables of which one member is the range.
  const tables = entries.flatMap(({ key, span, value }) =>
    value.kind === 'table' ? [{ key, span, table: value }] : [],
  );
  if (plain.length + tables.length !== entries.length || tables.length === 0) return null;
  const member = commonMember(tables.map((one) => one.table));
  if (member === null) return null;
  const isOuter = entries.length > 2 || RANGE_WORDS.has(member.toLowerCase());
  if (!isOuter && tables.every((one) => hasRangesAlone(one.table))) return null;
  const inside = tables.flatMap(({ key, span, table }) => {
    const value = textOf(table, member);
    return value === null ? [] : [{ name: key, text: value.text, span }];
  });
  return {
    at: queryOf(path),
    name: null,
    range: step(tables[0]!.table, member),
    entries: [...plain, ...inside],
  };
}

/** Its entries may as well be requirements themselves. */
function hasRangesAlone({ entries }: SourceTable): boolean {
  return [...entries.values()].every(
    ({ value }) =>
      value.kind === 'scalar' && typeof value.value === 'string' && likeness(value.text) !== null,
  );
}

function listCandidate(items: readonly SourceNode[], path: SourcePath): Candidate | null {
  const tables = items.filter((item): item is SourceTable => item.kind === 'table');
  if (tables.length === 0 || tables.length !== items.length) return null;
  const range = commonMember(tables);
  if (range === null) return null;
  const names = [...tables[0]!.entries.keys()].filter(
    (key) =>
      key !== range &&
      tables.every((table) => {
        const value = textOf(table, key);
        return value !== null && isNameInAnyForm(value.text) && likeness(value.text) === null;
      }),
  );
  const [name] = names.sort((a, b) => nameRank(a) - nameRank(b));
  if (name === undefined) return null;
  const entries = tables.map((table) => ({
    name: textOf(table, name)!.text,
    text: textOf(table, range)!.text,
    span: table.span,
  }));
  // A list that names one thing again and again is no list of requirements.
  if (new Set(entries.map((entry) => entry.name)).size < entries.length) return null;
  const [first] = tables as [SourceTable];
  return { at: queryOf([...path, 0]), name: step(first, name), range: step(first, range), entries };
}

function nameRank(key: string): number {
  const rank = ['package', 'name', 'id', '@package', '@name', '@id'].indexOf(key.toLowerCase());
  return rank < 0 ? 9 : rank;
}

/** The one member that says a range in most of the tables; null: none, or several do. */
function commonMember(tables: readonly SourceTable[]): string | null {
  const keys = new Set(tables.flatMap((table) => [...table.entries.keys()]));
  const good = [...keys].filter((key) => {
    const texts = tables.flatMap((table) => textOf(table, key)?.text ?? []);
    const ranges = texts.filter((text) => likeness(text) !== null);
    return texts.length === tables.length && ranges.length * 2 >= tables.length;
  });
  return good.length === 1 ? good[0]! : null;
}

/** The text of a member, which in XML may be the text of the one element of that name. */
function textOf(table: SourceTable, key: string): SourceScalar | null {
  const value = table.entries.get(key)?.value;
  if (value?.kind === 'scalar') return typeof value.value === 'string' ? value : null;
  const [only, other] = value?.kind === 'list' ? value.items : [];
  if (only?.kind !== 'table' || other !== undefined) return null;
  const text = only.entries.get('#text')?.value;
  return text?.kind === 'scalar' ? text : null;
}

/** The query that leads from an item to a member's text. */
function step(table: SourceTable, key: string): string {
  const isElement = table.entries.get(key)?.value.kind === 'list';
  return isElement ? `${queryOf([key])}[0]['#text']` : queryOf([key]);
}

/** A query that leads to a path, with every index as any. */
export function queryOf(path: SourcePath): string {
  return `$${path
    .map((one) =>
      typeof one === 'number'
        ? '[*]'
        : /^[\p{L}_][\p{L}\p{Nd}_]*$/u.test(one)
          ? `.${one}`
          : `['${one.replaceAll("'", "\\'")}']`,
    )
    .join('')}`;
}

/** What stands at a place of a tree, whether or not it reads as ranges. O(size). */
export function entriesAt(
  root: SourceNode,
  { at, name, range }: Omit<Candidate, 'entries'>,
): readonly CandidateEntry[] {
  const [atQuery, nameQuery, rangeQuery] = [at, name, range].map((text) => {
    const reading = text === null ? null : readQuery(text);
    return reading?.ok === true ? reading.query : null;
  });
  const textIn = (node: SourceNode, query: Query | null | undefined): string | null => {
    const [path] = query == null ? [[]] : (found(query, node) ?? []);
    const value = path === undefined ? null : sourceAt(node, path);
    return value?.kind === 'scalar' && typeof value.value === 'string' ? value.text : null;
  };
  return (found(atQuery!, root) ?? []).flatMap((path): readonly CandidateEntry[] => {
    const node = sourceAt(root, path)!;
    if (name !== null) {
      const [called, text] = [textIn(node, nameQuery), textIn(node, rangeQuery)];
      return called === null || text === null ? [] : [{ name: called, text, span: node.span }];
    }
    if (node.kind !== 'table') return [];
    return [...node.entries.values()].flatMap(({ key, span, value }) => {
      const text = textIn(value, value.kind === 'scalar' ? null : rangeQuery);
      return text === null || !isNameInAnyForm(key) ? [] : [{ name: key, text, span }];
    });
  });
}
