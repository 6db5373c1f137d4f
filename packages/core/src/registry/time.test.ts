import { expect, test } from 'vitest';
import { parseTime } from './time.js';

test.each([
  ['2026-10-02T08:00:00Z', '2026-10-02T08:00:00.000Z'],
  ['2026-10-02T10:00:00.5+02:00', '2026-10-02T08:00:00.500Z'],
  ['2024-02-29t23:59:60z', '2024-02-29T23:59:59.000Z'],
  ['2026-02-30T00:00:00Z', null],
  ['2025-02-29T00:00:00Z', null],
  ['2026-13-01T00:00:00Z', null],
  ['2026-00-01T00:00:00Z', null],
  ['2026-01-01T24:00:00Z', null],
  ['2026-01-01T00:00:00', null],
  ['2026-01-01', null],
  ['yesterday', null],
])('%s is %s', (text, expected) => {
  expect(parseTime(text)).toBe(expected);
});
