import type { AlignmentRow } from '../api/client';
import { count } from '../parts/words';

/** The rail in words, for those who hear the page. */
export function railWords({ name, marks, newest, pin, reaches }: AlignmentRow): string {
  const inLine = marks
    .filter((mark) => mark.inLine > 0)
    .map((mark) => `${mark.inLine} at ${mark.version}`);
  const off = marks.filter((mark) => mark.off > 0).map((mark) => `${mark.off} at ${mark.version}`);
  const ofCopies = marks.filter((mark) => mark.inLine + mark.off === 0);
  const sentences = [
    `${name}:`,
    inLine.length > 0 ? `in line ${inLine.join(', ')}.` : 'none in line.',
    off.length > 0 ? `Out of line ${off.join(', ')}.` : '',
    ofCopies.length > 0
      ? `For copies alone ${ofCopies.map(({ version }) => version).join(', ')}.`
      : '',
    `${count(reaches.length, 'range')}: ${reaches.map(({ range }) => range).join(', ')}.`,
    pin === null ? '' : `Pinned to ${pin}.`,
    newest === null ? '' : `Newest ${newest}.`,
  ];
  return sentences.filter(Boolean).join(' ');
}
