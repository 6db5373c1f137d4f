import { expect, test } from 'vitest';
import { isIntegrity } from './integrity.js';

test.each([
  [`sha256-${'a'.repeat(43)}=`, true],
  [`sha384-${'a'.repeat(64)}`, true],
  [`sha512-${'+'.repeat(86)}==`, true],
  ['sha512-AAA==', false],
  [`sha256-${'a'.repeat(86)}==`, false],
  [`sha256-${'a'.repeat(44)}`, false],
  [`md5-${'a'.repeat(22)}==`, false],
  [`sha512-${'_'.repeat(86)}==`, false],
  ['', false],
])('%s: %s', (text, expected) => {
  expect(isIntegrity(text)).toBe(expected);
});
