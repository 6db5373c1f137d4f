import { compile, type JSONPathQuery } from 'json-p3';
import { plainOf, type SourceNode, type SourcePath } from './syntax/index.js';

/** A JSONPath query (RFC 9535) that was read. */
export interface Query {
  readonly text: string;
  readonly compiled: JSONPathQuery;
  /** The names that it is made of, where it is nothing but names: `$.app.id`. */
  readonly names: readonly string[] | null;
}

export type QueryReading =
  { readonly ok: true; readonly query: Query } | { readonly ok: false; readonly message: string };

/** A query that finds more is refused: it is about something else. */
export const MOST_FOUND = 100_000;

/** O(length). */
export function readQuery(text: string): QueryReading {
  // Their patterns are matched by engines that may take for ever.
  if (/\b(?:match|search)\s*\(/.test(text))
    return { ok: false, message: `"${text}" uses match or search, which are not taken here.` };
  try {
    const compiled = compile(text);
    return { ok: true, query: { text, compiled, names: namesOf(text) } };
  } catch (error) {
    const said = (error as Error).message.replace(/ \('.*$/s, '');
    return { ok: false, message: `"${text}" is no JSONPath query: ${said}.` };
  }
}

const NAME = /\.([\p{L}_][\p{L}\p{Nd}_]*)|\[(?:'([^'\\]*)'|"([^"\\]*)")\]/uy;

function namesOf(text: string): readonly string[] | null {
  const names: string[] = [];
  let at = 1;
  while (at < text.length) {
    NAME.lastIndex = at;
    const match = NAME.exec(text);
    if (match === null) return null;
    names.push(match[1] ?? match[2] ?? match[3]!);
    at = NAME.lastIndex;
  }
  return text.startsWith('$') ? names : null;
}

/** Paths of what a query finds below a node, in the order of the document; null: more than are taken. */
export function found(query: Query, node: SourceNode): readonly SourcePath[] | null {
  // Most queries are a row of names.
  if (query.names !== null) return foundByNames(query.names, node);
  const paths: SourcePath[] = [];
  for (const { location } of query.compiled.lazyQuery(plainOf(node) as never)) {
    if (paths.length >= MOST_FOUND) return null;
    paths.push(location);
  }
  return paths;
}

function foundByNames(names: readonly string[], node: SourceNode): readonly SourcePath[] {
  let now = node;
  for (const name of names) {
    const next = now.kind === 'table' ? now.entries.get(name)?.value : undefined;
    if (next === undefined) return [];
    now = next;
  }
  return [names];
}
