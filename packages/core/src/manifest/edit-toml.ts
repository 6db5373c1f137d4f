import type { Span, TextEdit } from '../text/index.js';
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
  return { offset: start, length: end - start, text: JSON.stringify(value) };
}

/**
 * The edit that adds `key = value` to a table, in its sorted place if its keys are sorted, else at
 * its end. A table that is not there yet is added at the end of the file.
 * @param value TOML text of the value
 */
export function planAddEntry(
  text: string,
  root: TomlTable,
  path: readonly string[],
  key: string,
  value: string,
): TextEdit {
  const newline = text.includes('\r\n') ? '\r\n' : '\n';
  const line = `${printKey(key)} = ${value}`;
  const table = nodeAt(root, path);
  if (table?.kind !== 'table' || table.origin === 'implied') {
    const gap = text === '' ? '' : text.endsWith('\n') ? newline : newline + newline;
    const header = `[${path.map(printKey).join('.')}]`;
    return { offset: text.length, length: 0, text: `${gap}${header}${newline}${line}${newline}` };
  }
  const entries = [...table.entries.values()].filter((entry) => !isTableOfItsOwn(entry));
  const before = entryBefore(entries, key);
  if (table.origin === 'inline') return insertInline(table, entries, before, line);
  const dotted = table.origin === 'dotted' ? `${path.map(printKey).join('.')}.` : '';
  const indent = indentOf(text, (before ?? entries[0])?.span[0]);
  if (before === null && entries.length > 0) {
    return {
      offset: lineStart(text, entries[0]!.span[0]),
      length: 0,
      text: `${indent}${dotted}${line}${newline}`,
    };
  }
  if (before === null && path.length === 0)
    return { offset: 0, length: 0, text: `${line}${newline}` };
  const offset = lineEnd(text, before === null ? table.span[1] : before.span[1]);
  const hasNewline = text[offset] === '\n' || text[offset] === '\r';
  return {
    offset,
    length: 0,
    text: `${newline}${indent}${dotted}${line}${hasNewline ? '' : newline}`,
  };
}

function isTableOfItsOwn({ value }: TomlEntry): boolean {
  return value.kind === 'table' && value.origin !== 'inline';
}

/** The entry after which a key belongs; null: before all of them. */
function entryBefore(entries: readonly TomlEntry[], key: string): TomlEntry | null {
  const isSorted = entries.every((entry, i) => i === 0 || entries[i - 1]!.key < entry.key);
  if (!isSorted) return entries.at(-1)!;
  return entries.findLast((entry) => entry.key < key) ?? null;
}

function insertInline(
  table: TomlTable,
  entries: readonly TomlEntry[],
  before: TomlEntry | null,
  line: string,
): TextEdit {
  const [start, end] = table.span;
  if (entries.length === 0) return { offset: start, length: end - start, text: `{ ${line} }` };
  if (before === null) return { offset: entries[0]!.span[0], length: 0, text: `${line}, ` };
  return { offset: before.span[1], length: 0, text: `, ${line}` };
}

export function printKey(key: string): string {
  return /^[A-Za-z0-9_-]+$/.test(key) ? key : JSON.stringify(key);
}

function lineStart(text: string, offset: number): number {
  return text.lastIndexOf('\n', offset - 1) + 1;
}

/** The offset of the line's end, before `\r\n` or `\n`. */
function lineEnd(text: string, offset: number): number {
  const newline = text.indexOf('\n', offset);
  if (newline < 0) return text.length;
  return newline > offset && text[newline - 1] === '\r' ? newline - 1 : newline;
}

function indentOf(text: string, offset: number | undefined): string {
  if (offset === undefined) return '';
  return /^[ \t]*/.exec(text.slice(lineStart(text, offset), offset))![0];
}
