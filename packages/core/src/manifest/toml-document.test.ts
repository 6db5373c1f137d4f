import { expect, test } from 'vitest';
import { parseToml } from './toml-document.js';

const text = (i: number, length: number): string => `a = ${i}\n# ${'x'.repeat(length)}\n`;

test('the trees of the last texts are kept, those from longer ago and of very long texts are not', () => {
  const first = parseToml(text(0, 1000));
  expect(parseToml(text(0, 1000))).toBe(first);
  for (let i = 1; i <= 200; i++) parseToml(text(i, 1000));
  expect(parseToml(text(0, 1000))).toBe(first);
  for (let i = 201; i <= 500; i++) parseToml(text(i, 1000));
  expect(parseToml(text(0, 1000))).not.toBe(first);
  expect(parseToml(text(0, 1000))).toEqual(first);
  const long = parseToml(text(1, 100_000));
  expect(parseToml(text(1, 100_000))).not.toBe(long);
});
