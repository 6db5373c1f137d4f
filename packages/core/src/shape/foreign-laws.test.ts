import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { addForeign, removeForeign, setForeignRange, type ForeignEdit } from './edit-foreign.js';
import { anyForeign, LAYOUTS, RANGES, type ForeignSketch } from './foreign-document.arbitrary.js';
import { readForeignManifest } from './read-foreign-manifest.js';
import type { ManifestShape } from './shape.js';

function wants(text: string, shape: ManifestShape): ReadonlyMap<string, string | null> {
  const { manifest, problems } = readForeignManifest(text, shape);
  if (manifest === null || problems.length > 0)
    throw new Error(`${JSON.stringify(problems)}\n${text}`);
  return new Map(
    manifest.requirements.map(({ kind, name, written }) => [`${kind} ${name}`, written]),
  );
}

function sketched({ runtime, dev }: ForeignSketch): Map<string, string | null> {
  return new Map([
    ...runtime.map(([name, range]) => [`runtime ${name}`, range] as const),
    ...dev.map(([name, range]) => [`dev ${name}`, range] as const),
  ]);
}

function done(edit: ForeignEdit, text: string): string {
  if (!edit.ok) throw new Error(`${edit.message}\n${text}`);
  return edit.text;
}

/** Expects all lines that do not speak of a name to be there, in their order and to the letter. */
function expectOthersToStay(before: string, after: string, about: readonly string[]): void {
  const left = after.split('\n');
  let at = 0;
  for (const line of before.split('\n')) {
    if (about.some((word) => line.includes(word)) || line.trim() === '') continue;
    const found = left.indexOf(line, at);
    expect(
      found,
      `${JSON.stringify(line)} is not in\n${after}\nbefore:\n${before}`,
    ).toBeGreaterThanOrEqual(0);
    at = found + 1;
  }
  if (before.includes('\r\n')) expect(after).not.toMatch(/[^\r]\n/);
}

function changedLines(before: string, after: string): readonly [number, number] {
  const [a, b] = [before.split('\n'), after.split('\n')];
  const gone = a.filter((line) => !b.includes(line)).length;
  const come = b.filter((line) => !a.includes(line)).length;
  return [gone, come];
}

/** The neighbour of what is added or taken may gain or lose a comma, and a table its braces. */
const FRAME = [' {}', '{}', '[]', '{', '}', '[', ']'];

describe.each(Object.keys(LAYOUTS))('a foreign manifest in %s', (layout) => {
  const [shape] = LAYOUTS[layout]!;

  test('says what it was made of', () => {
    fc.assert(
      fc.property(anyForeign(layout), (sketch) => {
        expect(new Map([...wants(sketch.text, shape)].sort())).toEqual(
          new Map([...sketched(sketch)].sort()),
        );
      }),
    );
  });

  test('a range is changed where it stands, on its line alone', () => {
    fc.assert(
      fc.property(
        anyForeign(layout),
        fc.nat(),
        fc.constantFrom(...RANGES),
        (sketch, pick, range) => {
          const { text } = sketch;
          const all = [...sketched(sketch)];
          fc.pre(all.length > 0);
          const [key] = all[pick % all.length]!;
          const [kind, name] = key.split(' ') as ['runtime' | 'dev', string];
          const edit = setForeignRange(text, shape, kind, name, range);
          const after = done(edit, text);
          expect(wants(after, shape)).toEqual(new Map(wants(text, shape)).set(key, range));
          const [gone, come] = changedLines(text, after);
          expect(gone).toBeLessThanOrEqual(1);
          expect(come).toBeLessThanOrEqual(1);
          expect(after.split('\n')).toHaveLength(text.split('\n').length);
        },
      ),
    );
  });

  test('a requirement is added beside the others, and nothing else moves', () => {
    fc.assert(
      fc.property(anyForeign(layout), fc.constantFrom('aaa', 'dd', 'zoo'), (sketch, name) => {
        const { text } = sketch;
        const edit = addForeign(text, shape, 'runtime', name, '^9.9.9');
        if (!edit.ok) {
          // A list that is empty has no form to take.
          const isBare = sketch.runtime.length === 0;
          expect([isBare, edit.message]).toEqual([
            true,
            expect.stringContaining('Add the first by hand'),
          ]);
          return;
        }
        const expected = new Map(wants(text, shape)).set(`runtime ${name}`, '^9.9.9');
        expect(new Map([...wants(edit.text, shape)].sort())).toEqual(new Map([...expected].sort()));
        const neighbours = sketch.runtime.map(([one]) => one);
        expectOthersToStay(text, edit.text, [...neighbours, ...FRAME]);
      }),
    );
  });

  test('a requirement is taken out, and nothing else moves', () => {
    fc.assert(
      fc.property(anyForeign(layout), fc.nat(), (sketch, pick) => {
        const { text } = sketch;
        const all = [...sketched(sketch)];
        fc.pre(all.length > 0);
        const [key] = all[pick % all.length]!;
        const [kind, name] = key.split(' ') as ['runtime' | 'dev', string];
        const after = done(removeForeign(text, shape, kind, name), text);
        const expected = new Map(wants(text, shape));
        expected.delete(key);
        expect(wants(after, shape)).toEqual(expected);
        const row = kind === 'dev' ? sketch.dev : sketch.runtime;
        const neighbours = row.map(([one]) => one);
        expectOthersToStay(text, after, [
          ...neighbours,
          ...FRAME,
          'wanted',
          'libraries',
          'tools',
          '- id',
          '>',
        ]);
      }),
    );
  });

  test('edits of different requirements give the same file in any order', () => {
    fc.assert(
      fc.property(anyForeign(layout), (sketch) => {
        const { text, runtime } = sketch;
        fc.pre(runtime.length > 1);
        const [[a], [b]] = runtime as unknown as readonly [[string], [string]];
        const set = (now: string, name: string): string =>
          done(setForeignRange(now, shape, 'runtime', name, '^7.0.0'), now);
        expect(set(set(text, a), b)).toBe(set(set(text, b), a));
      }),
    );
  });
});
