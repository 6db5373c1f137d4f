import type { TextEdit } from '../text/index.js';
import { printString } from './edit-toml.js';
import { lineStart, newlineOf, nextLine } from './toml-lines.js';
import type { TomlArray, TomlNode } from './toml-document.js';

/**
 * The edits that make a list hold these texts: what is not wanted goes, what is missing comes at the end, in
 * the manner of the items there. Comments of what stays stay where they are. Null where an item is no plain string.
 */
export function planSetList(
  text: string,
  array: TomlArray,
  wanted: readonly string[],
): readonly TextEdit[] | null {
  const items = array.items.map((item) => (item.kind === 'string' ? String(item.value) : null));
  if (items.includes(null)) return null;
  const added = wanted.filter((one) => !items.includes(one)).map(printString);
  const kept = array.items.filter((_, i) => wanted.includes(items[i]!));
  const [start, end] = array.span;
  const last = kept.at(-1);
  if (last === undefined) return [begun(text, start, end, added)];
  const gone = array.items.filter((item) => !kept.includes(item));
  return [...planRemoveItems(text, array, gone), ...add(text, array, last, added)];
}

/** The edits that take items out of a list; a list of which nothing is left is empty. */
export function planRemoveItems(
  text: string,
  array: TomlArray,
  gone: readonly TomlNode[],
): readonly TextEdit[] {
  const last = array.items.findLast((item) => !gone.includes(item));
  const [start, end] = array.span;
  if (last === undefined)
    return gone.length === 0 ? [] : [{ offset: start, length: end - start, text: '[]' }];
  return [
    ...gone.flatMap((item) => remove(text, array, item)),
    ...withoutLastComma(text, array, last),
  ];
}

/** A list of which no item stays: what is added stands in a row, and comments in it stay behind. */
function begun(text: string, start: number, end: number, added: readonly string[]): TextEdit {
  const comments = text.slice(start, end).match(/#[^\r\n]*/g);
  const inside = text.slice(start + 1, end - 1);
  if (comments === null || !/^[ \t]*(#|\r?\n)/.test(inside) || hasStrings(inside))
    return { offset: start, length: end - start, text: `[${added.join(', ')}]` };
  return { offset: start + 1, length: 0, text: added.map((one) => ` ${one},`).join('') };
}

function hasStrings(inside: string): boolean {
  return inside.replace(/#[^\r\n]*/g, '').trim() !== '';
}

/** The comma after an item, past white space, line ends and comments; null: none. */
function commaAfter(text: string, { span }: TomlNode, end: number): number | null {
  for (let at = span[1]; at < end; at++) {
    if (text[at] === ',') return at;
    if (text[at] === '#') at = nextLine(text, at) - 1;
    else if (!/\s/.test(text[at]!)) return null;
  }
  return null;
}

/** An item with the comma after it: its whole line where it has one, else with the blanks that follow. */
function remove(text: string, { span }: TomlArray, item: TomlNode): readonly TextEdit[] {
  const [start, end] = item.span;
  const comma = commaAfter(text, item, span[1] - 1);
  const isNear = comma !== null && !text.slice(end, comma).includes('\n');
  const past = isNear ? comma + 1 : end;
  const away = comma === null || isNear ? [] : [{ offset: comma, length: 1, text: '' }];
  const lineFrom = lineStart(text, start);
  const beginsLine = lineFrom > span[0] && text.slice(lineFrom, start).trim() === '';
  const endsLine = /^[ \t]*(#|\r?\n)/.test(text.slice(past));
  if (beginsLine && endsLine && nextLine(text, past) < span[1])
    return [{ offset: lineFrom, length: nextLine(text, past) - lineFrom, text: '' }, ...away];
  const blanks = /^[ \t]*/.exec(text.slice(past))![0].length;
  return [{ offset: start, length: past + blanks - start, text: '' }, ...away];
}

/** Where the last items go from a row that has no comma at its end, the comma before them goes too. */
function withoutLastComma(
  text: string,
  { items, span }: TomlArray,
  last: TomlNode,
): readonly TextEdit[] {
  const next = items[items.indexOf(last) + 1];
  const hasComma = commaAfter(text, items.at(-1)!, span[1] - 1) !== null;
  const comma = commaAfter(text, last, span[1] - 1);
  if (next === undefined || hasComma || comma === null) return [];
  const isRow = /^,[ \t]*$/.test(text.slice(comma, next.span[0]));
  return isRow ? [{ offset: comma, length: next.span[0] - comma, text: '' }] : [];
}

function add(
  text: string,
  { span }: TomlArray,
  last: TomlNode,
  added: readonly string[],
): readonly TextEdit[] {
  if (added.length === 0) return [];
  const [start, end] = last.span;
  const lineFrom = lineStart(text, start);
  const hasOwnLine = lineFrom > span[0] && text.slice(lineFrom, start).trim() === '';
  if (!hasOwnLine)
    return [{ offset: end, length: 0, text: added.map((one) => `, ${one}`).join('') }];
  const newline = newlineOf(text);
  const indent = text.slice(lineFrom, start);
  const comma = commaAfter(text, last, span[1] - 1);
  const isClosedHere = nextLine(text, end) >= span[1];
  if (isClosedHere) {
    const at = comma === null ? end : comma + 1;
    const lines = added.map((one) => `${newline}${indent}${one}`).join(',');
    return [{ offset: at, length: 0, text: comma === null ? `,${lines}` : lines }];
  }
  const lines = added.map((one) => `${indent}${one},${newline}`).join('');
  return [
    ...(comma === null ? [{ offset: end, length: 0, text: ',' }] : []),
    { offset: nextLine(text, Math.max(end, comma ?? end)), length: 0, text: lines },
  ];
}
