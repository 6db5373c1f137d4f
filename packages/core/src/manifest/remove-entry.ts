import type { Span, TextEdit } from '../text/index.js';
import { nodeAt } from './edit-toml.js';
import { lineStart, nextLine } from './toml-lines.js';
import type { TomlEntry, TomlTable } from './toml-document.js';

/**
 * The edits that take an entry out of its table, however it is written: with the lines that it stands on, between
 * braces with the comma that parted it from its neighbour, a table with a header of its own with all its lines, one
 * made by dotted keys with each of them. Null: there is no such entry.
 */
export function planRemoveEntry(
  text: string,
  root: TomlTable,
  path: readonly string[],
): readonly TextEdit[] | null {
  const table = nodeAt(root, path.slice(0, -1));
  const entry = table?.kind === 'table' ? table.entries.get(path.at(-1)!) : undefined;
  if (table?.kind !== 'table' || entry === undefined) return null;
  return removal(text, table, entry);
}

function removal(text: string, table: TomlTable, entry: TomlEntry): readonly TextEdit[] {
  const { value } = entry;
  if (value.kind === 'table' && value.origin === 'header') return [removeBlock(text, value)];
  if (value.kind === 'table' && value.origin === 'implied')
    return [...value.entries.values()].flatMap((one) => removal(text, value, one));
  const spans = pairsOf(entry);
  const braces = table.origin === 'inline' ? table : (table.braces ?? bracesOf(entry));
  return braces === null
    ? spans.map((span) => removeLines(text, span))
    : removePairs(braces, spans);
}

function bracesOf({ value }: TomlEntry): TomlTable | null {
  return value.kind === 'table' ? value.braces : null;
}

/** The pairs of key and value that an entry is made of: one, or those of all dotted keys. */
function pairsOf({ value, span }: TomlEntry): readonly Span[] {
  return value.kind === 'table' && value.origin === 'dotted'
    ? [...value.entries.values()].flatMap(pairsOf)
    : [span];
}

/** Takes pairs out from between braces, each with the comma that follows it, or, of the last ones, precedes it. */
function removePairs({ pairs }: TomlTable, gone: readonly Span[]): readonly TextEdit[] {
  const isGone = pairs.map(([start]) => gone.some((one) => one[0] === start));
  const lastKept = isGone.lastIndexOf(false);
  return pairs.flatMap(([start, end], i): readonly TextEdit[] => {
    if (!isGone[i]) return [];
    const from = i > lastKept && i > 0 ? pairs[i - 1]![1] : start;
    const to = i > lastKept ? end : pairs[i + 1]![0];
    return [{ offset: from, length: to - from, text: '' }];
  });
}

/** The whole lines from the start of a span to its end. */
export function removeLines(text: string, [start, end]: Span): TextEdit {
  const from = lineStart(text, start);
  return { offset: from, length: nextLine(text, end) - from, text: '' };
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
    if (value.kind !== 'table' || value.origin === 'inline') {
      // A list of tables with headers is no line of this table.
      return value.kind === 'array' && value.items.some((item) => isHeaderTable(item))
        ? []
        : [span[1]];
    }
    return value.origin === 'dotted' ? [endOfTable(value)] : [];
  });
  return Math.max(table.span[1], ...ends);
}

function isHeaderTable(item: { readonly kind: string }): boolean {
  return item.kind === 'table' && (item as TomlTable).origin === 'header';
}

/** Takes away a table that has nothing left in it: its header, or its empty braces. Comments keep it. */
export function planRemoveIfEmpty(
  text: string,
  root: TomlTable,
  path: readonly string[],
): readonly TextEdit[] {
  const table = nodeAt(root, path);
  if (table?.kind !== 'table' || table.entries.size > 0) return [];
  if (table.origin === 'inline') return planRemoveEntry(text, root, path) ?? [];
  if (table.origin !== 'header' || hasCommentsInside(text, table)) return [];
  return [removeBlock(text, table)];
}

/** Does a comment stand between a header and the next line that is none? */
function hasCommentsInside(text: string, { span }: TomlTable): boolean {
  const rest = text.slice(nextLine(text, span[1]));
  return /^(?:[ \t]*\r?\n)*[ \t]*#/.test(rest.split(/^[ \t]*\[/m, 1)[0]!);
}
