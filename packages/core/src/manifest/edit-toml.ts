import type { Span, TextEdit } from '../text/index.js';
import { lineEnd, lineStart, newlineOf, withCommentsAbove } from './toml-lines.js';
import type { TomlEntry, TomlNode, TomlTable } from './toml-document.js';

/** The node at a path of keys, or null. */
export function nodeAt(root: TomlTable, path: readonly string[]): TomlNode | null {
  let node: TomlNode = root;
  for (const key of path) {
    const next: TomlNode | undefined =
      node.kind === 'table' ? node.entries.get(key)?.value : undefined;
    if (next === undefined) return null;
    node = next;
  }
  return node;
}

/** A text as a TOML basic string. */
export function printString(text: string): string {
  // JSON leaves DEL as it is, which TOML does not.
  return JSON.stringify(text).replaceAll('\u007f', '\\u007f');
}

export function printKey(key: string): string {
  return /^[A-Za-z0-9_-]+$/.test(key) ? key : printString(key);
}

/**
 * The edit that gives a string another content; its kind of quotes stays where it can.
 * @param value must hold no control characters
 */
export function planSetString(text: string, span: Span, value: string): TextEdit {
  const [start, end] = span;
  const quote = text[start];
  const isMultiline = text.startsWith('"""', start) || text.startsWith("'''", start);
  const fitsLiteral = quote === "'" && !value.includes("'");
  const fitsBasic = quote === '"' && !/["\\]/.test(value);
  if (!isMultiline && (fitsLiteral || fitsBasic)) {
    return { offset: start + 1, length: end - start - 2, text: value };
  }
  return { offset: start, length: end - start, text: printString(value) };
}

/** A pair to be added: a key, dotted where it has several parts, and the TOML text of its value. */
interface Pair {
  readonly key: string;
  readonly value: string;
}

/**
 * The edit that adds `key = value` to a table, in its sorted place if its keys are sorted, else at
 * its end. A table that is not there yet is added: where its parent is written between braces or by dotted keys in
 * the same manner, else with a header at the end of the file.
 * @param value TOML text of the value
 */
export function planAddEntry(
  text: string,
  root: TomlTable,
  path: readonly string[],
  key: string,
  value: string,
): TextEdit {
  const table = nodeAt(root, path);
  if (table?.kind === 'table' && table.origin !== 'implied')
    return addPairs(text, table, key, [{ key: printKey(key), value }], path.length === 0);
  const parent = path.length === 0 ? null : nodeAt(root, path.slice(0, -1));
  const isClosed =
    parent?.kind === 'table' && (parent.origin === 'inline' || parent.origin === 'dotted');
  if (table === null && isClosed) {
    const name = path.at(-1)!;
    return parent.origin === 'inline'
      ? addPairs(text, parent, name, [
          { key: printKey(name), value: `{ ${printKey(key)} = ${value} }` },
        ])
      : addPairs(text, parent, name, [{ key: `${printKey(name)}.${printKey(key)}`, value }]);
  }
  const newline = newlineOf(text);
  const header = `[${path.map(printKey).join('.')}]`;
  return appendBlock(text, [header, `${printKey(key)} = ${value}`].join(newline));
}

/** The edit that adds a block at the end of a text, set apart by a blank line. */
export function appendBlock(text: string, block: string): TextEdit {
  const newline = newlineOf(text);
  const gap =
    text === '' || text === '\ufeff' ? '' : text.endsWith('\n') ? newline : newline + newline;
  return { offset: text.length, length: 0, text: `${gap}${block}${newline}` };
}

/**
 * The edit that adds pairs, which stay together, to a table that is there.
 * @param name by which they are put in their place
 * @param isRoot whether the table is the file itself, whose pairs stand before all headers
 */
export function addPairs(
  text: string,
  table: TomlTable,
  name: string,
  pairs: readonly Pair[],
  isRoot = false,
): TextEdit {
  const prefix = table.prefix === null ? '' : text.slice(...table.prefix);
  const lines = pairs.map(({ key, value }) => `${prefix}${key} = ${value}`);
  const braces = table.origin === 'inline' ? table : table.braces;
  if (braces !== null) return betweenBraces(table, braces, name, lines.join(', '));
  const newline = newlineOf(text);
  const entries = ownEntries(table);
  const before = entryBefore(entries, name);
  const first = entries[0];
  const indent = indentOf(text, (before ?? first)?.span[0]);
  const block = lines.map((line) => `${indent}${line}`).join(newline);
  if (before === null && first !== undefined) {
    // Comments that stand right above the first entry are about it.
    const offset = withCommentsAbove(text, lineStart(text, first.span[0]), table.span[1]);
    return { offset, length: 0, text: `${block}${newline}` };
  }
  if (before === null && isRoot)
    return { offset: text.startsWith('\ufeff') ? 1 : 0, length: 0, text: `${block}${newline}` };
  const after = before?.span[1] ?? (table.origin === 'dotted' ? lastLineOf(table) : table.span[1]);
  const offset = lineEnd(text, after);
  const hasNewline = text[offset] === '\n' || text[offset] === '\r';
  return { offset, length: 0, text: `${newline}${block}${hasNewline ? '' : newline}` };
}

/** Entries that stand in a table's own lines or braces. */
function ownEntries(table: TomlTable): readonly TomlEntry[] {
  return [...table.entries.values()].filter(
    ({ value }) => value.kind !== 'table' || value.origin === 'inline',
  );
}

/** The end of the last pair that a table made by dotted keys has, at any depth. */
function lastLineOf(table: TomlTable): number {
  return Math.max(
    table.span[1],
    ...[...table.entries.values()].map(({ value, span }) =>
      value.kind === 'table' && value.origin === 'dotted' ? lastLineOf(value) : span[1],
    ),
  );
}

/** The entry after which a key belongs; null: before all of them. */
function entryBefore(entries: readonly TomlEntry[], key: string): TomlEntry | null {
  const isSorted = entries.every((entry, i) => i === 0 || entries[i - 1]!.key < entry.key);
  if (!isSorted) return entries.at(-1)!;
  return entries.findLast((entry) => entry.key < key) ?? null;
}

function betweenBraces(table: TomlTable, braces: TomlTable, name: string, pairs: string): TextEdit {
  const [start, end] = braces.span;
  if (braces.pairs.length === 0)
    return { offset: start, length: end - start, text: `{ ${pairs} }` };
  const entries = ownEntries(table);
  const before = entryBefore(entries, name);
  if (before !== null) return { offset: before.span[1], length: 0, text: `, ${pairs}` };
  const first = entries[0];
  if (first !== undefined) return { offset: first.span[0], length: 0, text: `${pairs}, ` };
  return { offset: braces.pairs.at(-1)![1], length: 0, text: `, ${pairs}` };
}

function indentOf(text: string, offset: number | undefined): string {
  if (offset === undefined) return '';
  return /^[ \t]*/.exec(text.slice(lineStart(text, offset), offset))![0];
}
