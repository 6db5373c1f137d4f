import type { Span, TextEdit } from '../text/index.js';
import { nodeAt } from './edit-toml.js';
import type { TomlEntry, TomlTable } from './toml-document.js';

/**
 * The edit that takes an entry out of its table: with the lines that it stands on, or, between braces, with
 * the comma that parted it from its neighbour. Null: there is no such entry.
 */
export function planRemoveEntry(
  text: string,
  root: TomlTable,
  path: readonly string[],
): TextEdit | null {
  const table = nodeAt(root, path.slice(0, -1));
  const entry = table?.kind === 'table' ? table.entries.get(path.at(-1)!) : undefined;
  if (table?.kind !== 'table' || entry === undefined) return null;
  return table.origin === 'inline' ? removeInline(table, entry) : removeLines(text, entry.span);
}

function removeInline({ entries }: TomlTable, entry: TomlEntry): TextEdit {
  const all = [...entries.values()];
  const i = all.indexOf(entry);
  const next = all[i + 1];
  const before = all[i - 1];
  const start = next === undefined && before !== undefined ? before.span[1] : entry.span[0];
  const end = next === undefined ? entry.span[1] : next.span[0];
  return { offset: start, length: end - start, text: '' };
}

/** The whole lines from the start of a span to its end. */
export function removeLines(text: string, [start, end]: Span): TextEdit {
  const lineStart = text.lastIndexOf('\n', start - 1) + 1;
  const newline = text.indexOf('\n', end);
  const lineEnd = newline < 0 ? text.length : newline + 1;
  return { offset: lineStart, length: lineEnd - lineStart, text: '' };
}

/** The lines of a table with a header of its own, and the blank line that set it apart. */
export function removeBlock(text: string, table: TomlTable): TextEdit {
  const { offset, length } = removeLines(text, [table.span[0], endOfTable(table)]);
  const gap = /\n(\r?\n)$/.exec(text.slice(0, offset))?.[1]?.length ?? 0;
  return { offset: offset - gap, length: length + gap, text: '' };
}

/** The end of a table's header or of its last entry, tables with headers of their own left aside. */
export function endOfTable(table: TomlTable): number {
  const ends = [...table.entries.values()].flatMap(({ value, span }) => {
    if (value.kind !== 'table' || value.origin === 'inline') return [span[1]];
    return value.origin === 'dotted' ? [endOfTable(value)] : [];
  });
  return Math.max(table.span[1], ...ends);
}
