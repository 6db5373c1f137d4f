import fc from 'fast-check';
import { query as reference } from 'json-p3';
import { describe, expect, test } from 'vitest';
import { found, readQuery } from './query.js';
import { sourceOfJson } from './syntax/index.js';

const anyKey = fc.constantFrom('a', 'b', 'x y', '@id', '#text');
const anyJson = fc.letrec((tie) => ({
  value: fc.oneof(
    { weight: 2, arbitrary: fc.constantFrom(1, 'one', null, true) },
    { weight: 1, arbitrary: fc.array(tie('value'), { maxLength: 3 }) },
    { weight: 2, arbitrary: fc.dictionary(anyKey, tie('value'), { maxKeys: 4 }) },
  ),
})).value;
const anyStep = fc.oneof(
  anyKey.map((key) => `['${key}']`),
  fc.constantFrom('.a', '.b', '[0]', '[1]', '[*]', '.*', '..a', '[?@.a]', '[-1]', '[0:2]'),
);

describe('a query', () => {
  test('finds what the standard says, whether it is simple or not', () => {
    fc.assert(
      fc.property(anyJson, fc.array(anyStep, { maxLength: 4 }), (value, steps) => {
        const text = `$${steps.join('')}`;
        fc.pre(text.split('..').length <= 2);
        const reading = readQuery(text);
        if (!reading.ok) throw new Error(reading.message);
        expect(found(reading.query, sourceOfJson(value))).toEqual(
          reference(text, value as never).locations(),
        );
      }),
    );
  });

  test.each([
    '',
    'a',
    '$.',
    '$[',
    '$.a b',
    "$[?match(@.a, '(a+)+')]",
    '$..[?search(@, "x")]',
    '$..a..b',
    '$..[?@..a]',
  ])('"%s" is none that is taken', (text) => {
    expect(readQuery(text).ok).toBe(false);
  });
});
