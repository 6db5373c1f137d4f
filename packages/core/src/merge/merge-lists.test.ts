import fc from 'fast-check';
import { expect, test } from 'vitest';
import { mergeManifest } from './index.js';

/** Lists of tables in our own files, with the keys that tell their entries apart. */
const LISTS: Readonly<Record<string, (name: string) => Readonly<Record<string, string>>>> = {
  exceptions: (name) => ({ project: name, package: 'log' }),
  otherwise: (name) => ({ of: name, package: 'log' }),
  muted: (name) => ({ finding: `unused ${name}` }),
  accepted: (name) => ({ id: name }),
  standing: (name) => ({ name }),
};

/** What each entry says; null: it is not there. */
type Entries = Readonly<Record<'a' | 'b' | 'c', string | null>>;

interface Side {
  readonly head: string;
  readonly entries: Entries;
  readonly isReversed: boolean;
}

const anyEntry = fc.constantFrom(null, 'x', 'y');
const anySide: fc.Arbitrary<Side> = fc.record({
  head: fc.constantFrom('1', '2'),
  entries: fc.record({ a: anyEntry, b: anyEntry, c: anyEntry }),
  isReversed: fc.boolean(),
});

function textOf(list: string, { head, entries, isReversed }: Side): string {
  const blocks = Object.entries(entries).flatMap(([name, says]) => {
    if (says === null) return [];
    const lines = Object.entries({ ...LISTS[list]!(name), says }).map(
      ([key, value]) => `${key} = "${value}"\n`,
    );
    return [`\n[[${list}]]\n${lines.join('')}`];
  });
  return `format = ${head}\n${(isReversed ? blocks.reverse() : blocks).join('')}`;
}

/** The entries of a text, read line by line. */
function entriesOf(list: string, text: string): readonly string[] {
  return text
    .split(`[[${list}]]`)
    .slice(1)
    .map((block) => block.trim())
    .sort();
}

const NAMES = ['a', 'b', 'c'] as const;

test.each(Object.keys(LISTS))('entries of %s are merged one by one', (list) => {
  fc.assert(
    fc.property(anySide, anySide, anySide, (base, ours, theirs) => {
      // The line before them is another conflict, where both change it.
      fc.pre(base.head === ours.head || base.head === theirs.head || ours.head === theirs.head);
      const expected: Record<string, string | null> = {};
      const disputed: string[] = [];
      for (const name of NAMES) {
        const [b, o, t] = [base, ours, theirs].map(({ entries }) => entries[name]) as [
          string | null,
          string | null,
          string | null,
        ];
        if (o !== t && o !== b && t !== b) disputed.push(name);
        expected[name] = o === b ? t : o;
      }
      const texts = {
        base: textOf(list, base),
        ours: textOf(list, ours),
        theirs: textOf(list, theirs),
      };
      const merge = mergeManifest('f', texts);
      const { ours: o, theirs: t } = texts;
      expect(mergeManifest('f', { ...texts, ours: t, theirs: o }).kind).toBe(merge.kind);
      if (merge.kind === 'conflicts') {
        const keys = merge.conflicts.map(({ path }) => path.slice(1).join(' '));
        expect(keys).toEqual(disputed.map((name) => Object.values(LISTS[list]!(name)).join(' ')));
        return;
      }
      expect(disputed).toEqual([]);
      const wanted = { head: '1', entries: expected as Entries, isReversed: false };
      expect(entriesOf(list, merge.text!)).toEqual(entriesOf(list, textOf(list, wanted)));
    }),
  );
});

test('entries that nothing tells apart are kept, or the file is decided as a whole', () => {
  const entry = (files: string): string => `\n[[scan.other]]\nfiles = ["${files}"]\n`;
  const base = `format = 1\n${entry('a')}`;
  const texts = { base, ours: base + entry('b'), theirs: base.replace('["a"]', '["c"]') };
  expect(mergeManifest('f', texts)).toEqual({
    kind: 'merged',
    text: `format = 1\n${entry('c')}${entry('b')}`,
  });
});
