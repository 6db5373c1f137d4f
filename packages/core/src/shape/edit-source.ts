import { lineEnd, lineStart, newlineOf, nextLine } from '../manifest/index.js';
import type { Span, TextEdit } from '../text/index.js';
import type { Syntax } from './syntax/index.js';

/** Things that stand beside each other in a table or a list, in their order. */
export interface Row {
  readonly text: string;
  readonly syntax: Syntax;
  /** Of the table or list. */
  readonly whole: Span;
  readonly parts: readonly Span[];
}

/** Is a table or list written between brackets, so that commas part what is in it? */
function isBracketed({ text, whole }: Row): boolean {
  return /[[{]/.test(text[whole[0]] ?? '');
}

/** The text before a value in its line, if it is only blanks and the bullet of an item; else null. */
function ownPrefix({ text, syntax }: Row, at: number): string | null {
  const prefix = text.slice(lineStart(text, at), at);
  const rest = syntax.bullet === '' ? prefix : prefix.replace(/- +/g, '');
  return /^[ \t]*$/.test(rest) ? prefix : null;
}

/**
 * Puts a thing behind another in its row, on a line of its own where its neighbour has one, with the commas and the
 * indentation that its neighbour has.
 * @param after index of the neighbour; -1: before all others
 * @param isItem an item of a list, which begins with its list's bullet
 */
export function planInsert(
  row: Row,
  after: number,
  source: string,
  isItem: boolean,
): readonly TextEdit[] | null {
  const { text, parts, whole } = row;
  const newline = newlineOf(text);
  if (parts.length === 0) {
    if (!isBracketed(row)) return null;
    const [start, end] = whole;
    // A comment between the brackets would be lost.
    if (text.slice(start + 1, end - 1).trim() !== '') return null;
    const open = text[start]!;
    return [replace([start, end], `${open} ${source} ${open === '{' ? '}' : ']'}`)];
  }
  const comma = row.syntax.separator === ',' || isBracketed(row) ? ',' : '';
  const neighbour = parts[Math.max(0, after)]!;
  const prefix = ownPrefix(row, neighbour[0]);
  if (prefix === null) {
    if (after < 0) return [insert(neighbour[0], `${source}${comma} `)];
    return [insert(neighbour[1], `${comma === '' ? newline : `${comma} `}${source}`)];
  }
  const indent = isItem ? prefix : prefix.replace(/[^ \t]/g, ' ');
  if (after < 0) {
    // The bullet of an item stays with the first entry of its table.
    if (!isItem && indent !== prefix)
      return [insert(neighbour[0], `${source}${comma}${newline}${indent}`)];
    return [insert(commentsAbove(row, neighbour[0]), `${indent}${source}${comma}${newline}`)];
  }
  const end = neighbour[1];
  const rest = text.slice(end, lineEnd(text, end));
  const isLast = after === parts.length - 1;
  const hasComma = comma !== '' && rest.trimStart().startsWith(',');
  const isClear = isEndOfLine(row, hasComma ? rest.trimStart().slice(1) : rest);
  if (!isClear) return [insert(end, `${comma}${newline}${indent}${source}`)];
  const line = `${newline}${indent}${source}${comma !== '' && (hasComma || !isLast) ? ',' : ''}`;
  const behind = insert(lineEnd(text, end), line);
  return comma === '' || hasComma ? [behind] : [insert(end, ','), behind];
}

/** Takes a thing out of its row, with the line that it stands on and the comma that parted it from its neighbour. */
export function planRemove(row: Row, index: number): readonly TextEdit[] {
  const { text, parts, syntax } = row;
  const [start, end] = parts[index]!;
  const [before, behind] = [parts[index - 1], parts[index + 1]];
  const hasCommas = syntax.separator === ',' || isBracketed(row);
  const rest = text.slice(end, lineEnd(text, end));
  const comma = hasCommas ? /^\s*,/.exec(text.slice(end))?.[0].length : undefined;
  const inLine = comma !== undefined && comma <= rest.length ? rest.slice(comma) : rest;
  const isAlone = ownPrefix(row, start) !== null && isEndOfLine(row, inLine);
  if (isAlone && !isFirstOfBullet(row, start)) {
    const from = lineStart(text, start);
    const lines = replace([from, nextLine(text, end)], '');
    // The one before is the last now, and its comma goes where this one had none.
    if (!hasCommas || before === undefined || behind !== undefined || comma !== undefined)
      return [lines];
    const gap = /^\s*,/.exec(text.slice(before[1]));
    return gap === null ? [lines] : [replace([before[1], before[1] + gap[0].length], ''), lines];
  }
  if (behind !== undefined) return [replace([start, behind[0]], '')];
  if (before !== undefined) return [replace([before[1], end], '')];
  const only = comma === undefined ? end : end + comma;
  return [replace([start, only], '')];
}

/** Does an entry share its line with the bullet of the item that it begins? */
function isFirstOfBullet({ text, syntax, whole }: Row, at: number): boolean {
  return (
    syntax.bullet !== '' && whole[0] === at && text.slice(lineStart(text, at), at).includes('-')
  );
}

function isEndOfLine({ syntax: { comment } }: Row, rest: string): boolean {
  const said = rest.trim();
  return said === '' || comment?.test(said) === true;
}

/** Comments right above a thing are about it. */
function commentsAbove({ text, syntax: { comment }, whole }: Row, at: number): number {
  let start = lineStart(text, at);
  while (comment !== null && start > 0) {
    const above = lineStart(text, start - 1);
    if (above < whole[0] || !comment.test(text.slice(above, start).trim())) break;
    start = above;
  }
  return start;
}

function insert(offset: number, text: string): TextEdit {
  return { offset, length: 0, text };
}

function replace([start, end]: Span, text: string): TextEdit {
  return { offset: start, length: end - start, text };
}
