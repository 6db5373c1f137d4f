import fc from 'fast-check';
import { expect, test } from 'vitest';
import { nearNames } from './confusable.js';

/** So few letters and lengths that many are near each other. */
const names = fc.uniqueArray(
  fc.string({ unit: fc.constantFrom('a', 'b', '1', '2'), minLength: 4, maxLength: 6 }),
  { minLength: 20, maxLength: 60 },
);

/** All texts that one edit makes of a name, but where a digit comes, goes, or is another. */
function oneEditFrom(name: string): ReadonlySet<string> {
  const made = new Set<string>();
  const letters = ['a', 'b'];
  const isDigit = (text: string): boolean => /^\d*$/.test(text);
  for (let at = 0; at <= name.length; at++) {
    const [before, here, next, after] = [
      name.slice(0, at),
      name.slice(at, at + 1),
      name.slice(at + 1, at + 2),
      name.slice(at + 1),
    ];
    for (const letter of letters) made.add(before + letter + here + after);
    if (here === '') continue;
    if (!isDigit(here)) made.add(before + after);
    for (const other of [...letters, '1', '2'])
      if (!isDigit(here + other)) made.add(before + other + after);
    if (next !== '' && !isDigit(here + next)) made.add(before + next + here + name.slice(at + 2));
  }
  return made;
}

test('near are just the long names that one edit leads from one to the other, each pair once', () => {
  fc.assert(
    fc.property(names, (all) => {
      const long = all.filter((name) => name.length >= 5);
      const wanted = long.flatMap((a) => {
        const near = oneEditFrom(a);
        return long.filter((b) => a < b && near.has(b)).map((b) => `${a} ${b}`);
      });
      const found = nearNames(all).map((pair) => pair.join(' '));
      expect([...found].sort()).toEqual([...wanted].sort());
    }),
  );
});
