import { expect, test } from 'vitest';
import { checkText } from './check-text';
import type { Check } from './form';

test.each<[Check, string, boolean]>([
  ['version', '1.3.1', true],
  ['version', '1.x', false],
  ['version', '^1.0.0', false],
  ['range', '^1.2.0 || ~3.1.0', true],
  ['range', '^^1', false],
  ['range', 'shared', false],
  ['requirement-range', 'shared', true],
  ['requirement-range', 'workspace', true],
  ['requirement-range', '1.2.3 -', false],
  ['package', 'tarn-json', true],
  ['package', 'Tarn Json!', false],
])('as a %s, %j is right: %s', (check, text, isRight) => {
  expect(checkText(check, text) === null).toBe(isRight);
});

test('nothing typed is not complained of', () => {
  expect(checkText('version', ' ')).toBeNull();
});
