import fc from 'fast-check';
import { expect, test } from 'vitest';
import { lineStarts, positionAt } from './line-starts.js';
import { nearestWord } from './nearest-word.js';
import { applyEdits } from './text-edit.js';

test('edits are made against the original text, in any order', () => {
  const edits = [
    { offset: 6, length: 5, text: 'there' },
    { offset: 0, length: 1, text: 'J' },
    { offset: 11, length: 0, text: '!' },
  ];
  expect(applyEdits('hello world', edits)).toBe('Jello there!');
  expect(applyEdits('hello world', [...edits].reverse())).toBe('Jello there!');
});

test('edits that overlap or leave the text are refused', () => {
  expect(() =>
    applyEdits('abc', [
      { offset: 0, length: 2, text: '' },
      { offset: 1, length: 1, text: '' },
    ]),
  ).toThrow(RangeError);
  expect(() => applyEdits('abc', [{ offset: 2, length: 2, text: '' }])).toThrow(RangeError);
});

test('positions count lines by any ending', () => {
  fc.assert(
    fc.property(
      fc
        .array(fc.constantFrom('a', 'bc', '\n', '\r\n', '\r'), { maxLength: 12 })
        .map((p) => p.join('')),
      (text) => {
        const starts = lineStarts(text);
        const lines = text.split(/\r\n|\n|\r/);
        expect(starts).toHaveLength(lines.length);
        for (let offset = 0; offset <= text.length; offset++) {
          const { line, column } = positionAt(starts, offset);
          expect(starts[line - 1]! + column - 1).toBe(offset);
        }
      },
    ),
  );
});

test.each([
  ['peers', ['peer', 'copies'], 'peer'],
  ['nedes', ['needs', 'name'], 'needs'],
  ['x', ['needs', 'name'], null],
])('the nearest word to %s', (word, known, meant) => {
  expect(nearestWord(word, known)).toBe(meant);
});
