import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findByName, findByWords } from './find-by-name';

const named = (...names: readonly string[]) => names.map((name) => ({ name }));
const shown = ({ shown }: ReturnType<typeof findByName>): string[] =>
  shown.map(({ item, marks }) => {
    let text = '';
    let at = 0;
    for (const [from, to] of marks) {
      text += `${item.name.slice(at, from)}[${item.name.slice(from, to)}]`;
      at = to;
    }
    return text + item.name.slice(at);
  });

describe('by name', () => {
  test('the name itself comes first, then its beginning, then a part, then the rest', () => {
    const items = named('lanternjs', 'scree-tarn', 'tarn-json', 'tarn', 'starn');
    expect(shown(findByName(items, 'Tarn', 10))).toEqual([
      '[tarn]',
      '[tarn]-json',
      'scree-[tarn]',
      's[tarn]',
    ]);
  });

  test('the beginning of a part is marked before an earlier place', () => {
    expect(shown(findByName(named('starn-tarn'), 'tarn', 10))).toEqual(['starn-[tarn]']);
  });

  test('only the best are shown, and all are counted', () => {
    const found = findByName(named('a-b', 'b', 'ab', 'c'), 'b', 2);
    expect(shown(found)).toEqual(['[b]', 'a-[b]']);
    expect(found).toMatchObject({ total: 3, rank: 0 });
  });

  test('nothing is found by no text', () => {
    expect(findByName(named('a'), ' ', 10)).toEqual({ shown: [], total: 0, rank: Infinity });
  });

  test('what is found is what has the text in it, and marks are just that text', () => {
    const letters = fc.string({ unit: fc.constantFrom('a', 'b', '-', 'A'), maxLength: 6 });
    fc.assert(
      fc.property(fc.array(letters), letters, (names, text) => {
        const wanted = text.toLowerCase();
        const { shown, total } = findByName(named(...names), text, Infinity);
        const expected = names.filter(
          (name) => wanted !== '' && name.toLowerCase().includes(wanted),
        );
        expect(total).toBe(expected.length);
        expect(shown.map(({ item }) => item.name).sort()).toEqual(expected.sort());
        for (const { item, marks } of shown)
          for (const [from, to] of marks)
            expect(item.name.slice(from, to).toLowerCase()).toBe(wanted);
      }),
    );
  });
});

test('by words: all of them, in any order, marked', () => {
  const items = named('pass-office asks for cairn-dates', 'cairn-dates has several copies');
  expect(shown(findByWords(items, 'cairn pass', 10))).toEqual([
    '[pass]-office asks for [cairn]-dates',
  ]);
  expect(shown(findByWords(items, 'dates cairn-', 10))).toEqual([
    'pass-office asks for [cairn-dates]',
    '[cairn-dates] has several copies',
  ]);
  expect(findByWords(items, 'tarn', 10).total).toBe(0);
});
