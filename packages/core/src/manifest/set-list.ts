import type { TextEdit } from '../text/index.js';
import { removeLines } from './remove-entry.js';
import type { TomlArray, TomlNode } from './toml-document.js';

/**
 * The edits that make a list hold these texts: what is not wanted goes, what is missing comes at the end, in
 * the manner of the items there. Null where an item is no plain string.
 */
export function planSetList(
  text: string,
  array: TomlArray,
  wanted: readonly string[],
): readonly TextEdit[] | null {
  const items = array.items.map((item) => (item.kind === 'string' ? String(item.value) : null));
  if (items.includes(null)) return null;
  const added = wanted.filter((one) => !items.includes(one)).map((one) => JSON.stringify(one));
  const isKept = (_: TomlNode, i: number): boolean => wanted.includes(items[i]!);
  const kept = array.items.filter(isKept);
  const [start, end] = array.span;
  if (kept.length === 0)
    return [{ offset: start, length: end - start, text: `[${added.join(', ')}]` }];
  const gone = array.items.filter((item) => !kept.includes(item));
  const hasOwnLines = array.items.every((item) => beginsLine(text, item, start));
  return hasOwnLines
    ? [...gone.map(({ span }) => removeLines(text, span)), ...addLines(text, kept.at(-1)!, added)]
    : inRow(array.items, kept, added);
}

function beginsLine(text: string, { span }: TomlNode, from: number): boolean {
  const lineStart = text.lastIndexOf('\n', span[0]) + 1;
  return lineStart > from && text.slice(lineStart, span[0]).trim() === '';
}

function addLines(text: string, last: TomlNode, added: readonly string[]): readonly TextEdit[] {
  if (added.length === 0) return [];
  const end = last.span[1];
  const indent = text.slice(text.lastIndexOf('\n', last.span[0]) + 1, last.span[0]);
  const hasComma = text[end] === ',';
  const lineEnd = text.indexOf('\n', end);
  return [
    ...(hasComma ? [] : [{ offset: end, length: 0, text: ',' }]),
    { offset: lineEnd, length: 0, text: added.map((one) => `\n${indent}${one},`).join('') },
  ];
}

function inRow(
  items: readonly TomlNode[],
  kept: readonly TomlNode[],
  added: readonly string[],
): readonly TextEdit[] {
  const last = kept.at(-1)!;
  const removals = items.flatMap((item, i): TextEdit[] => {
    if (kept.includes(item)) return [];
    const isTail = i > items.indexOf(last);
    const from = isTail ? items[i - 1]!.span[1] : item.span[0];
    const to = isTail ? item.span[1] : items[i + 1]!.span[0];
    return [{ offset: from, length: to - from, text: '' }];
  });
  const addition = added.map((one) => `, ${one}`).join('');
  return [...removals, { offset: last.span[1], length: 0, text: addition }];
}
