import { expect, test } from 'vitest';
import { changedLines } from './changed-lines';

const marked = (from: string, to: string): string =>
  changedLines(from.split(''), to.split(''))
    .map(({ is, text }) => ({ gone: '-', kept: ' ', new: '+' })[is] + text)
    .join('');

test.each([
  ['abc', 'abc', ' a b c'],
  ['abc', 'axc', ' a-b+x c'],
  ['ab', 'abc', ' a b+c'],
  ['abc', 'c', '-a-b c'],
  ['', 'ab', '+a+b'],
  ['ab', '', '-a-b'],
  ['ab', 'ba', '+b a-b'],
])('from %j to %j', (from, to, expected) => {
  expect(marked(from, to)).toBe(expected);
});
