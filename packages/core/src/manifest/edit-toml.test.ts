import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyEdits } from '../text/index.js';
import { readProjectManifest } from './project-manifest.js';
import { planSetRequirement } from './set-requirement.js';
import { NEW_SHARED_FILE, planSetShared } from './set-shared.js';
import { readSharedManifest } from './shared-manifest.js';

function setRequirement(text: string, name: string, written: string): string {
  return applyEdits(text, planSetRequirement(text, 'runtime', name, written)!);
}

function setShared(text: string, name: string, range: string): string {
  return applyEdits(text, planSetShared(text, name, range)!);
}

describe('a requirement', () => {
  test.each([
    ['[needs]\na = "^1.0.0" # why\n', '[needs]\na = "shared" # why\n'],
    ["[needs]\n  a='^1.0.0'\r\n", "[needs]\n  a='shared'\r\n"],
    ['needs = { b = "1", a = "^1.0.0" }', 'needs = { b = "1", a = "shared" }'],
    ['needs.a = "^1.0.0"', 'needs.a = "shared"'],
    ['[needs.a]\nrange = "^1.0.0"\nwhen = ["x"]\n', '[needs.a]\nrange = "shared"\nwhen = ["x"]\n'],
    ['[needs]\na = """^1.0.0"""\n', '[needs]\na = "shared"\n'],
    ['[needs]\n"a" = "^1.0.0"\n', '[needs]\n"a" = "shared"\n'],
  ])('changes where it stands and nowhere else: %j', (before, after) => {
    expect(setRequirement(before, 'a', 'shared')).toBe(after);
  });

  test('that says so already is left alone; one that is not there cannot be set', () => {
    expect(planSetRequirement('[needs]\na = "shared"\n', 'runtime', 'a', 'shared')).toEqual([]);
    expect(planSetRequirement('[needs]\na = "1"\n', 'runtime', 'b', 'shared')).toBeNull();
    expect(planSetRequirement('[needs]\na = "1"\n', 'dev', 'a', 'shared')).toBeNull();
    expect(planSetRequirement('not toml', 'runtime', 'a', 'shared')).toBeNull();
  });
});

describe('a shared version', () => {
  test.each([
    [
      'is changed in place',
      'format = 1\n[shared]\na = "^1.0.0" # agreed in May\n',
      'format = 1\n[shared]\na = "^2.0.0" # agreed in May\n',
    ],
    [
      'moves its lockstep set',
      '[lockstep.s]\nrange = "1.0.0"\npackages = ["b", "a"]\n',
      '[lockstep.s]\nrange = "^2.0.0"\npackages = ["b", "a"]\n',
    ],
    [
      'moves its line of [everywhere]',
      '[everywhere]\na = { range = "^1.0.0", kind = "dev" }\n',
      '[everywhere]\na = { range = "^2.0.0", kind = "dev" }\n',
    ],
    [
      'goes to its sorted place',
      '[shared]\n# first\n_ = "1"\nb = "1" # b\n',
      '[shared]\n# first\n_ = "1"\na = "^2.0.0"\nb = "1" # b\n',
    ],
    [
      'goes to the end of an unsorted table',
      '[shared]\nz = "1" # z\nb = "1"\n\n[pins]\n',
      '[shared]\nz = "1" # z\nb = "1"\na = "^2.0.0"\n\n[pins]\n',
    ],
    ['goes before all others', '[shared]\n  b = "1"\n', '[shared]\n  a = "^2.0.0"\n  b = "1"\n'],
    [
      'goes into an empty table',
      'format = 1\n[shared]\n[pins]\n',
      'format = 1\n[shared]\na = "^2.0.0"\n[pins]\n',
    ],
    [
      'goes behind the last line without a newline',
      '[shared]\n_ = "1"',
      '[shared]\n_ = "1"\na = "^2.0.0"\n',
    ],
    ['goes into an inline table', 'shared = { b = "1" }\n', 'shared = { a = "^2.0.0", b = "1" }\n'],
    ['goes into an empty inline table', 'shared = {}\n', 'shared = { a = "^2.0.0" }\n'],
    [
      'goes beside dotted keys',
      'shared.b = "1"\nshared.c = "1"\n',
      'shared.a = "^2.0.0"\nshared.b = "1"\nshared.c = "1"\n',
    ],
    ['gets a table where there is none', 'format = 1\n', 'format = 1\n\n[shared]\na = "^2.0.0"\n'],
    [
      'keeps the line endings of Windows',
      '[shared]\r\n_ = "1"\r\n',
      '[shared]\r\n_ = "1"\r\na = "^2.0.0"\r\n',
    ],
    ['begins a new file', NEW_SHARED_FILE, 'format = 1\n\n[shared]\na = "^2.0.0"\n'],
  ])('%s', (_, before, after) => {
    expect(setShared(before, 'a', '^2.0.0')).toBe(after);
    expect(setShared(after, 'a', '^2.0.0')).toBe(after);
  });
});

const anyName = fc.constantFrom('ash', 'birch', 'cedar', 'dogwood', 'elm');
const anyLayout = fc.record({
  quote: fc.constantFrom('"', "'"),
  equals: fc.constantFrom('=', ' = ', '   =  '),
  remark: fc.constantFrom('', ' # a remark', '\t#x'),
  above: fc.constantFrom('', '# above\n', '\n\n'),
});

test('in any layout an edit changes its value alone, and all else is read as before', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.tuple(anyName, anyLayout), { selector: ([name]) => name, minLength: 1 }),
      fc.constantFrom('shared', '^9.0.0'),
      fc.nat(),
      (lines, written, pick) => {
        const text = `name = "p"\n[needs]\n${lines.map(([name, l]) => `${l.above}${name}${l.equals}${l.quote}~1.0.0${l.quote}${l.remark}\n`).join('')}`;
        const [name] = lines[pick % lines.length]!;
        const after = setRequirement(text, name, written);
        const values = readProjectManifest(after).project!.requirements.map((r) => [
          r.name,
          r.written,
        ]);
        expect(values).toEqual(
          lines.map(([other]) => [other, other === name ? written : '~1.0.0']),
        );
        const changed = after.split('\n').filter((line, i) => line !== text.split('\n')[i]);
        expect(changed).toHaveLength(1);
        expect(after.length - text.length).toBe(written.length - '~1.0.0'.length);
      },
    ),
  );
});

test('adding shared versions one by one gives a file that is read back whole', () => {
  fc.assert(
    fc.property(
      fc.array(anyName, { minLength: 1, maxLength: 6 }),
      fc.constantFrom('', '[shared]\ncedar = "1.0.0" # c\n', 'shared = {}\n'),
      (names, start) => {
        let text = `format = 1\n${start}`;
        for (const name of names) text = setShared(text, name, '^2.0.0');
        const { shared, problems } = readSharedManifest(text);
        expect(problems).toEqual([]);
        for (const name of names) expect(shared!.shared.get(name)!.text).toBe('^2.0.0');
      },
    ),
  );
});
