import { expect, test } from 'vitest';
import { sideSaid } from './merge-tool-command.js';

test.each([
  ['ours', 'ours'],
  ['O', 'ours'],
  ['Theirs', 'theirs'],
  ['t', 'theirs'],
  ['b', 'base'],
  ['', null],
  ['both', null],
  ['our', null],
])('the mergetool takes %j as %j', (said, side) => {
  expect(sideSaid(said)).toBe(side);
});
