import fc from 'fast-check';
import { expect, test } from 'vitest';
import { jsonFault } from './json-limits.js';

/** Looks at what the parser made of a text, where `jsonFault` looks at the text alone. */
function faultOf(value: unknown): boolean {
  if (typeof value === 'string') return /[\0\p{Surrogate}]/u.test(value);
  if (typeof value !== 'object' || value === null) return false;
  return Object.entries(value).some(([key, inner]) => faultOf(key) || faultOf(inner));
}

const unit = fc.oneof(
  fc.integer({ min: 0, max: 0xffff }),
  fc.constantFrom(0, 0x22, 0x5c, 0xd800, 0xdbff, 0xdc00, 0xdfff, 0x75, 0x30),
);
const text = fc.array(unit, { maxLength: 8 }).map((units) => String.fromCharCode(...units));
const value = fc.letrec<{ any: unknown }>((tie) => ({
  any: fc.oneof(
    { maxDepth: 3 },
    text,
    fc.integer(),
    fc.array(tie('any'), { maxLength: 3 }),
    fc
      .array(fc.tuple(text, tie('any')), { maxLength: 3 })
      .map((pairs) => Object.fromEntries(pairs)),
  ),
})).any;

test('a fault is told exactly where the parsed value has one, whether characters are escaped or not', () => {
  fc.assert(
    fc.property(value, fc.boolean(), (one, isEscaped) => {
      const plain = JSON.stringify(one);
      const written = isEscaped
        ? plain.replace(
            /[\u0080-\uffff]/g,
            (unit) => `\\u${unit.charCodeAt(0).toString(16).padStart(4, '0')}`,
          )
        : plain;
      expect(jsonFault(written) !== null).toBe(faultOf(JSON.parse(written)));
    }),
  );
});

test('nesting without end is told before anything parses it', () => {
  expect(jsonFault('['.repeat(64) + ']'.repeat(64))).toBeNull();
  expect(jsonFault('['.repeat(65) + ']'.repeat(65))).toMatch(/more than 64 deep/);
  expect(jsonFault('{"a":'.repeat(200_000))).toMatch(/more than 64 deep/);
  expect(jsonFault('"[[[[" '.repeat(100))).toBeNull();
});
