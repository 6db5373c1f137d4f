import { parseTOML, ParseError, type AST } from 'toml-eslint-parser';
import { composed, type Span } from '../text/index.js';
import { beyondLimits } from './toml-limits.js';

/** A TOML value with its place in the text. */
export type TomlNode = TomlTable | TomlArray | TomlScalar;

/**
 * How a table came to be decides where an entry can be added to it: under a `[header]`,
 * between `{ }`, through dotted keys, or only because a table below it has a header.
 */
export type TableOrigin = 'header' | 'inline' | 'dotted' | 'implied';

export interface TomlTable {
  readonly kind: 'table';
  readonly origin: TableOrigin;
  readonly span: Span;
  readonly entries: Map<string, TomlEntry>;
  /** Of one made by dotted keys: what stands before the last key, as `needs.dev.` of `needs.dev.x = "1"`. */
  readonly prefix: Span | null;
  /** Of one made by dotted keys between braces: the table of those braces. */
  readonly braces: TomlTable | null;
  /** Of one between braces: all its pairs of key and value in order, those of dotted keys among them. */
  readonly pairs: Span[];
}

export interface TomlArray {
  readonly kind: 'array';
  readonly span: Span;
  readonly items: TomlNode[];
}

export interface TomlScalar {
  readonly kind: 'string' | 'integer' | 'float' | 'boolean' | 'date';
  /** Dates as written. */
  readonly value: string | number | boolean;
  readonly span: Span;
}

export interface TomlEntry {
  /** Composed, as names are compared. */
  readonly key: string;
  readonly keySpan: Span;
  /** From the first unit of the whole, perhaps dotted, key to the end of the value. */
  readonly span: Span;
  readonly value: TomlNode;
}

export type TomlParse =
  | { readonly ok: true; readonly root: TomlTable }
  | { readonly ok: false; readonly message: string; readonly span: Span };

/** Texts of so many characters in all are kept with their trees, and none that is longer than a quarter of that. */
const MOST_KEPT = 262_144;

/** What was parsed last, the longest ago first. */
const kept = new Map<string, TomlParse>();
let keptLength = 0;

/**
 * Parses TOML 1.0 into a tree with positions. Errors are sentences and carry the place where reading stopped.
 * Who edits a text parses it, and what comes of it, and reads that again: trees of the last texts are kept.
 * Cost: O(length).
 */
export function parseToml(text: string): TomlParse {
  const before = kept.get(text);
  if (before !== undefined) {
    kept.delete(text);
    kept.set(text, before);
    return before;
  }
  const parsed = parse(text);
  if (text.length > MOST_KEPT / 4) return parsed;
  kept.set(text, parsed);
  keptLength += text.length;
  for (const [oldest] of kept) {
    if (keptLength <= MOST_KEPT) break;
    kept.delete(oldest);
    keptLength -= oldest.length;
  }
  return parsed;
}

function parse(text: string): TomlParse {
  const beyond = beyondLimits(text);
  if (beyond !== null) return { ok: false, ...beyond };
  try {
    return { ok: true, root: buildRoot(parseTOML(text, { tomlVersion: '1.0' })) };
  } catch (error) {
    if (error instanceof ParseError) {
      const at = Math.min(error.index, text.length);
      const message = `This is not TOML 1.0: ${lowerFirst(error.message)}.`;
      return { ok: false, message, span: [at, Math.min(at + 1, text.length)] };
    }
    throw error;
  }
}

function table(
  origin: TableOrigin,
  span: Span,
  prefix: Span | null = null,
  braces: TomlTable | null = null,
): TomlTable {
  return { kind: 'table', origin, span, entries: new Map(), prefix, braces, pairs: [] };
}

function buildRoot(program: AST.TOMLProgram): TomlTable {
  const root = table('header', [0, 0]);
  for (const node of program.body[0].body) {
    if (node.type === 'TOMLKeyValue') addKeyValue(root, node);
    else addTable(root, node);
  }
  return root;
}

function addTable(root: TomlTable, node: AST.TOMLTable): void {
  const keys = node.key.keys;
  let parent = root;
  for (const key of keys.slice(0, -1)) {
    parent = childTable(parent, key, () => ({
      made: table('implied', key.range),
      span: key.range,
    }));
  }
  const last = keys.at(-1)!;
  const made = table('header', headerSpan(node));
  if (node.kind === 'array') {
    const existing = parent.entries.get(keyText(last))?.value;
    if (existing?.kind === 'array') existing.items.push(made);
    else addEntry(parent, last, { kind: 'array', span: node.range, items: [made] }, node.range);
    for (const entry of node.body) addKeyValue(made, entry);
    return;
  }
  const existing = parent.entries.get(keyText(last))?.value;
  if (existing?.kind === 'table') for (const [k, v] of existing.entries) made.entries.set(k, v);
  addEntry(parent, last, made, node.key.range);
  for (const entry of node.body) addKeyValue(made, entry);
}

/** `[` to `]`: the entries of a header's table begin on the line after it. */
function headerSpan(node: AST.TOMLTable): Span {
  const brackets = node.kind === 'array' ? 2 : 1;
  return [node.range[0], node.key.range[1] + brackets];
}

/** @param braces the table between braces that the pair stands in */
function addKeyValue(
  parent: TomlTable,
  node: AST.TOMLKeyValue,
  braces: TomlTable | null = null,
): void {
  const keys = node.key.keys;
  braces?.pairs.push(node.range);
  let target = parent;
  for (const [i, key] of keys.slice(0, -1).entries()) {
    const prefix: Span = [node.range[0], keys[i + 1]!.range[0]];
    target = childTable(target, key, () => ({
      made: table('dotted', node.range, prefix, braces),
      span: node.range,
    }));
  }
  addEntry(target, keys.at(-1)!, buildValue(node.value), node.range);
}

function childTable(
  parent: TomlTable,
  key: AST.TOMLBare | AST.TOMLQuoted,
  make: () => { readonly made: TomlTable; readonly span: Span },
): TomlTable {
  const existing = parent.entries.get(keyText(key))?.value;
  if (existing?.kind === 'table') return existing;
  const last = existing?.kind === 'array' ? existing.items.at(-1) : undefined;
  if (last?.kind === 'table') return last;
  const { made, span } = make();
  addEntry(parent, key, made, span);
  return made;
}

function addEntry(
  parent: TomlTable,
  key: AST.TOMLBare | AST.TOMLQuoted,
  value: TomlNode,
  span: Span,
): void {
  const text = keyText(key);
  parent.entries.set(text, { key: text, keySpan: key.range, span, value });
}

function keyText(key: AST.TOMLBare | AST.TOMLQuoted): string {
  return composed(key.type === 'TOMLBare' ? key.name : key.value);
}

function buildValue(node: AST.TOMLContentNode): TomlNode {
  switch (node.type) {
    case 'TOMLArray':
      return { kind: 'array', span: node.range, items: node.elements.map(buildValue) };
    case 'TOMLInlineTable': {
      const made = table('inline', node.range);
      for (const entry of node.body) addKeyValue(made, entry, made);
      return made;
    }
    case 'TOMLValue':
      return buildScalar(node);
  }
}

function buildScalar(node: AST.TOMLValue): TomlScalar {
  switch (node.kind) {
    case 'string':
    case 'boolean':
    case 'integer':
    case 'float':
      return { kind: node.kind, value: node.value, span: node.range };
    default:
      return { kind: 'date', value: node.datetime, span: node.range };
  }
}

function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1).replace(/\.$/, '');
}
