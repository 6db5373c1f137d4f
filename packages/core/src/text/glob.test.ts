import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { globMatcher } from './glob.js';

describe('a pattern', () => {
  test.each([
    ['apps/*', 'apps/a apps/.a', 'apps apps/a/b libs/a'],
    ['apps/**', 'apps apps/a apps/a/b', 'app apps2/a'],
    ['**', 'a a/b', ''],
    [
      '**/generated/**',
      'generated/x a/generated/x a/b/generated/x/y',
      'a/generated2/x regenerated/x',
    ],
    ['a/**/b', 'a/b a/x/b a/x/y/b', 'a/xb ab'],
    ['a**b', 'ab axxb', 'a/b'],
    ['linux-*', 'linux-x64 linux-', 'linux darwin-x64'],
    ['*', 'linux-x64', 'a/b'],
    ['lib-?', 'lib-a', 'lib- lib-ab lib-/'],
    ['[a-c]x', 'ax cx', 'dx -x'],
    ['[!a-c]x', 'dx', 'ax /x'],
    ['{linux,darwin}-{x64,arm{64,32}}', 'linux-x64 darwin-arm32', 'linux-arm win-x64'],
    ['{,a}b', 'b ab', 'a'],
    ['a{b', 'a{b', 'ab'],
    ['a[b', 'a[b', 'ab'],
    ['\\*', '*', 'a'],
    ['😀?', '😀😀', '😀'],
  ])('%s', (pattern, inside, outside) => {
    const isMatch = globMatcher(pattern);
    const words = (list: string): readonly string[] => list.split(' ').filter(Boolean);
    for (const text of words(inside)) expect(isMatch(text), text).toBe(true);
    for (const text of words(outside)) expect(isMatch(text), text).toBe(false);
  });

  test('of several, any may match; of none, nothing does', () => {
    expect(globMatcher(['a', 'b*'])('bc')).toBe(true);
    expect(globMatcher([])('')).toBe(false);
  });

  test('matches what a search over all ways to cut the text finds', () => {
    const slow = (pattern: string, text: string): boolean => {
      if (pattern === '') return text === '';
      if (pattern.startsWith('*'))
        return (
          slow(pattern.slice(1), text) ||
          (text !== '' && text[0] !== '/' && slow(pattern, text.slice(1)))
        );
      const isPassed = pattern.startsWith('?')
        ? text !== '' && text[0] !== '/'
        : pattern[0] === text[0];
      return isPassed && slow(pattern.slice(1), text.slice(1));
    };
    const short = (...units: string[]): fc.Arbitrary<string> =>
      fc.array(fc.constantFrom(...units), { maxLength: 7 }).map((list) => list.join(''));
    fc.assert(
      fc.property(short('a', 'b', '/', '*', '?'), short('a', 'b', '/'), (pattern, text) => {
        fc.pre(!/(^|\/)\*\*(\/|$)/.test(pattern));
        expect(globMatcher(pattern)(text)).toBe(slow(pattern, text));
      }),
    );
  });

  test('with many stars is decided in steps that grow with pattern and text alone', () => {
    // Each star doubled the time once: 40 of them would not end.
    const isMatch = globMatcher(`${'*a'.repeat(40)}b`);
    expect(isMatch('a'.repeat(2000))).toBe(false);
    expect(globMatcher(`{${'*,'.repeat(200)}x}`.repeat(20))('y'.repeat(200))).toBe(true);
  });
});
