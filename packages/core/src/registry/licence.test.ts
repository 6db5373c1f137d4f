import { expect, test } from 'vitest';
import { isLicenceAllowed } from './licence.js';

test.each([
  ['MIT', true],
  ['mit', false],
  ['GPL-3.0-only', false],
  ['(MIT OR GPL-3.0-only)', true],
  ['MIT AND GPL-3.0-only', false],
  ['MIT AND (GPL-3.0-only OR Apache-2.0)', true],
  ['Apache-2.0 WITH LLVM-exception', true],
  ['Apache-2.0+', true],
  ['all rights reserved', false],
  ['', false],
  [null, false],
])('with MIT and Apache-2.0 allowed, %s: %s', (expression, isAllowed) => {
  expect(isLicenceAllowed(expression, ['MIT', 'apache-2.0'])).toBe(isAllowed);
});

test.each(['GPL-3.0-only', 'all rights reserved', null])(
  'where none is asked for, %s will do',
  (one) => {
    expect(isLicenceAllowed(one, [])).toBe(true);
  },
);
