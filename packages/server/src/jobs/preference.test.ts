import { expect, test } from 'vitest';
import { patienceOf } from './preference.js';

test.each([
  [undefined, null],
  ['return=minimal', null],
  ['respond-asynchronously', null],
  ['respond-async', 1000],
  ['Respond-Async, wait=7', 7000],
  ['wait="3"; respond-async', 3000],
  ['respond-async, wait=0', 0],
  ['respond-async, wait=soon', 1000],
  ['respond-async, wait=-1', 1000],
])('Prefer: %s', (header, patience) => {
  expect(patienceOf(header)).toBe(patience);
});
