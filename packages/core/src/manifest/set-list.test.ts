import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { carryOut } from './plan.js';
import { setValue } from './set-value.js';
import { parseToml } from './toml-document.js';

function listIn(text: string): readonly string[] {
  const parsed = parseToml(text);
  const node = parsed.ok ? parsed.root.entries.get('list')?.value : undefined;
  if (node?.kind !== 'array') throw new Error(text);
  return node.items.map((item) => ('value' in item ? String(item.value) : ''));
}

const set = (text: string, wanted: readonly string[]): string | null =>
  carryOut(text, setValue(['list'], wanted));

describe('a list is changed in the manner in which it is written', () => {
  test.each([
    [
      'in a row',
      'list = ["a", "b"]   # all\n',
      ['a', 'b', 'c'],
      'list = ["a", "b", "c"]   # all\n',
    ],
    ['the first goes', 'list = ["a", "b", "c"]\n', ['b', 'c'], 'list = ["b", "c"]\n'],
    ['the last goes', 'list = ["a", "b", "c"]\n', ['a'], 'list = ["a"]\n'],
    ['all go', 'list = ["a", "b"]\n', [], 'list = []\n'],
    ['the last for another', 'list = ["a", "b"]\n', ['a', 'z'], 'list = ["a", "z"]\n'],
    [
      'on lines of their own, comments beside them',
      'list = [\n  "a",   # one\n  "b",   # two\n]\n',
      ['b', 'c'],
      'list = [\n  "b",   # two\n  "c",\n]\n',
    ],
    [
      'on lines of their own without a last comma',
      'list = [\n  "a",\n  "b"   # two\n]\n',
      ['a', 'b', 'c'],
      'list = [\n  "a",\n  "b",   # two\n  "c",\n]\n',
    ],
    ['there was none', '[other]\nx = 1\n', ['a'], 'list = ["a"]\n[other]\nx = 1\n'],
  ])('%s', (_, text, wanted, expected) => {
    expect(set(text, wanted)).toBe(expected);
  });

  test('what is no list of strings is left alone', () => {
    expect(set('list = [1, 2]\n', ['a'])).toBeNull();
    expect(set('list = "a"\n', ['a'])).toBeNull();
  });

  test('the result holds what is wanted, what stays in its order, comments of what stays', () => {
    const anyItem = fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f');
    const anyItems = fc.uniqueArray(anyItem, { maxLength: 6 });
    fc.assert(
      fc.property(anyItems, anyItems, fc.boolean(), fc.boolean(), (items, wanted, isRow, ends) => {
        const lines = items.map((one, i) =>
          i === items.length - 1 && !ends ? `  "${one}"  # ${one}!` : `  "${one}",  # ${one}!`,
        );
        const text = isRow
          ? `list = [${items.map((one) => `"${one}"`).join(', ')}]\n`
          : `list = [\n${lines.join('\n')}\n]\n`;
        const changed = set(text, wanted)!;
        const kept = items.filter((one) => wanted.includes(one));
        const added = wanted.filter((one) => !items.includes(one));
        expect(listIn(changed)).toEqual([...kept, ...added]);
        if (isRow || kept.length === 0) return;
        for (const one of kept) expect(changed).toContain(`# ${one}!`);
      }),
    );
  });
});
