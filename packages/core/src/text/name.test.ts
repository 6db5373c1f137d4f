import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { composed, isName, isNameInAnyForm, NAME, packageUrl } from './name.js';

describe('a name', () => {
  test.each([
    'log',
    'Log4u',
    '@lifts/core',
    'org.lifts:core',
    'a/b/c',
    'c++',
    '_private',
    'x~y',
    'Zahnräder',
    'журнал',
    'हिन्दी',
    '日本語/パッケージ',
    'a'.repeat(214),
    '...',
  ])('may be %j', (name) => {
    expect(isName(name)).toBe(true);
  });

  test.each([
    '',
    '-log',
    'a b',
    'a\tb',
    'a\u00a0b',
    'a"b',
    "a'b",
    'a\\b',
    'a//b',
    '/a',
    'a/',
    '.',
    '..',
    'a/../b',
    'a/.',
    'a\u200bb',
    'a\u202eb',
    'a\u0000b',
    '\u0301a',
    'a/\u0301b',
    'a=b',
    'a#b',
    'a%b',
    'a?b',
    'a,b',
    'a*',
    'a'.repeat(215),
  ])('is not %j', (name) => {
    expect(isName(name)).toBe(false);
  });

  test('is counted in characters and compared in its composed form', () => {
    expect(isName('𝒜'.repeat(214))).toBe(true);
    expect(isName('𝒜'.repeat(215))).toBe(false);
    const apart = 'e\u0301tude';
    expect(isName(apart)).toBe(false);
    expect(isName(composed(apart))).toBe(true);
  });

  test('of any text is told as the pattern tells it', () => {
    const anyText = fc.oneof(
      fc.string({ unit: fc.constantFrom(...'aZ09._~+/:@- é\u0301') }),
      fc.string({ unit: fc.constantFrom(...'aZ09._-'), minLength: 200, maxLength: 230 }),
      fc.string({ unit: 'binary' }),
    );
    fc.assert(
      fc.property(anyText, (text) => {
        expect(isNameInAnyForm(text)).toBe(NAME.test(text));
      }),
    );
  });

  test('that is long and wrong at its end is refused at once', () => {
    expect(isName(`${'a/'.repeat(500_000)}"`)).toBe(false);
  });
});

test.each([
  ['log', '1.0.0', 'pkg:generic/log@1.0.0'],
  ['@lifts/core', '1.0.0-rc.1+b', 'pkg:generic/%40lifts/core@1.0.0-rc.1%2Bb'],
  ['org.lifts:core', '2.0.0', 'pkg:generic/org.lifts:core@2.0.0'],
  ['Zahnräder', '1.0.0', 'pkg:generic/Zahnr%C3%A4der@1.0.0'],
])('the package URL of %s %s', (name, version, url) => {
  expect(packageUrl(name, version)).toBe(url);
});
