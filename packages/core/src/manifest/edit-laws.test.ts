import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyEdits } from '../text/index.js';
import { addRequirement, believeUse, dropRequirement, moveRequirement } from './edit-needs.js';
import {
  dropEverywhere,
  dropException,
  dropLockstep,
  dropMuted,
  dropPin,
  dropShared,
  setEverywhere,
  setException,
  setLockstep,
  setMuted,
  setPin,
  setShared,
} from './edit-shared.js';
import { carryOut, type TreePlan } from './plan.js';
import { readProjectManifest, type RequirementKind } from './project-manifest.js';
import { planSetRequirement } from './set-requirement.js';
import { setValue } from './set-value.js';
import { anyChoices, Raw, spelt, type PlainTable } from './spelling.arbitrary.js';
import { parseToml, type TomlNode } from './toml-document.js';

/** What a text says, as plain data; dates as written. */
function meaning(text: string): PlainTable {
  const parsed = parseToml(text);
  if (!parsed.ok) throw new Error(`${parsed.message}\n${text}`);
  return plainOf(parsed.root) as PlainTable;
}

function plainOf(node: TomlNode): unknown {
  switch (node.kind) {
    case 'table':
      return Object.fromEntries([...node.entries].map(([key, { value }]) => [key, plainOf(value)]));
    case 'array':
      return node.items.map(plainOf);
    default:
      return node.value;
  }
}

/** Data as `meaning` gives it. */
function said(value: unknown): unknown {
  if (value instanceof Raw) return /^\d+$/.test(value.text) ? Number(value.text) : value.text;
  if (Array.isArray(value)) return value.map(said);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, said(one)]));
}

function commentsOf(text: string): readonly string[] {
  return text.match(/# (above|beside) \d+/g) ?? [];
}

/**
 * Expects that lines which are not about any of these words are all there, in their order and to the letter, and that
 * their comments are where they were.
 */
function expectOthersToStay(before: string, after: string, about: readonly string[]): void {
  const isAbout = (line: string): boolean => about.some((word) => line.includes(word));
  const lines = (text: string): readonly string[] => text.split('\n').map((line) => line.trimEnd());
  const left = lines(after);
  let at = 0;
  for (const line of lines(before)) {
    if (isAbout(line) || line === '') continue;
    const found = left.indexOf(line, at);
    expect(
      found,
      `${JSON.stringify(line)} is not in\n${after}\nbefore:\n${before}`,
    ).toBeGreaterThanOrEqual(0);
    at = found + 1;
  }
  if (/\r\n/.test(before)) expect(after).not.toMatch(/[^\r]\n/);
}

const NAMES = ['ash', 'birch', 'cedar', 'dog.wood', 'elm'];
const KINDS: readonly RequirementKind[] = ['runtime', 'dev', 'peer', 'optional'];

const anyRequirement = fc.oneof(
  { weight: 3, arbitrary: fc.constantFrom('^1.0.0', '~2.1.0', 'shared') },
  {
    weight: 1,
    arbitrary: fc.constant<PlainTable>({ range: '^3.0.0', when: ['linux-*', 'darwin-*'] }),
  },
);

const anyProject = fc
  .record({
    needs: fc.uniqueArray(
      fc.tuple(fc.constantFrom(...NAMES), fc.constantFrom(...KINDS), anyRequirement),
      { selector: ([name]) => name, maxLength: 5 },
    ),
    implicit: fc.option(fc.uniqueArray(fc.constantFrom('x', 'y', 'z'), { maxLength: 3 })),
    choices: anyChoices,
  })
  .map(({ needs, implicit, choices }) => {
    const of = (kind: RequirementKind): PlainTable =>
      Object.fromEntries(
        needs.filter(([, one]) => one === kind).map(([name, , value]) => [name, value]),
      );
    const kinds = Object.fromEntries(
      KINDS.slice(1).flatMap((kind) =>
        needs.some(([, one]) => one === kind) ? [[kind, of(kind)]] : [],
      ),
    );
    const table: PlainTable = {
      name: 'pass-office',
      version: '0.4.0',
      ...(needs.length === 0 ? {} : { needs: { ...of('runtime'), ...kinds } }),
      ...(implicit === null ? {} : { use: { implicit } }),
    };
    return { table, needs, implicit, text: spelt(table, choices) };
  });

type Needs = ReadonlyMap<string, string>;

function needsOf(text: string): Needs {
  const { project, problems } = readProjectManifest(text);
  if (project === null || problems.length > 0)
    throw new Error(`${JSON.stringify(problems)}\n${text}`);
  return new Map(
    project.requirements.map(({ kind, name, written, when }) => [
      `${kind} ${name}`,
      [written, ...when].join(' '),
    ]),
  );
}

function done(text: string, plans: readonly TreePlan[]): string {
  const after = carryOut(text, ...plans);
  expect(after, `cannot be edited:\n${text}`).not.toBeNull();
  return after!;
}

describe('a project manifest in any spelling', () => {
  test('says what it was made of', () => {
    fc.assert(
      fc.property(anyProject, ({ table, text }) => {
        expect(meaning(text)).toEqual(said(table));
      }),
    );
  });

  test('a range is changed where it stands', () => {
    fc.assert(
      fc.property(anyProject, fc.nat(), ({ needs, text }, pick) => {
        fc.pre(needs.length > 0);
        const [name, kind] = needs[pick % needs.length]!;
        const after = applyEdits(text, planSetRequirement(text, kind, name, '^9.9.9')!);
        const [was, is] = [needsOf(text), needsOf(after)];
        expect([...is.keys()]).toEqual([...was.keys()]);
        for (const [key, value] of is)
          expect(value.split(' ')[0]).toBe(
            key === `${kind} ${name}` ? '^9.9.9' : was.get(key)!.split(' ')[0],
          );
        expectOthersToStay(text, after, [name, 'range', 'needs', '^', '~', 'shared']);
        expect(commentsOf(after)).toEqual(commentsOf(text));
      }),
    );
  });

  test('a requirement is added', () => {
    fc.assert(
      fc.property(
        anyProject,
        fc.constantFrom(...KINDS),
        fc.constantFrom('aaa', 'cat', 'zoo', 'do.t'),
        ({ text }, kind, name) => {
          const after = done(text, [addRequirement(kind, name, '^9.9.9')]);
          expect(needsOf(after)).toEqual(
            new Map([...needsOf(text), [`${kind} ${name}`, '^9.9.9']]),
          );
          expectOthersToStay(text, after, ['{']);
          expect(commentsOf(after)).toEqual(commentsOf(text));
        },
      ),
    );
  });

  test('a requirement is taken away, and no empty table of its kind is left', () => {
    fc.assert(
      fc.property(anyProject, fc.nat(), ({ needs, text }, pick) => {
        fc.pre(needs.length > 0);
        const [name, kind] = needs[pick % needs.length]!;
        const after = done(text, dropRequirement(kind, name));
        const expected = new Map(needsOf(text));
        expected.delete(`${kind} ${name}`);
        expect(needsOf(after)).toEqual(expected);
        expectOthersToStay(text, after, [
          name,
          'range',
          'when',
          'needs',
          '{',
          '#',
          '"""',
          "'''",
          '^',
          '~',
          'shared',
          'linux',
          'darwin',
          ']',
          '\\u00',
        ]);
        if (kind === 'runtime') return;
        const { needs: left } = meaning(after) as { needs?: PlainTable };
        const table = left?.[kind] as PlainTable | undefined;
        const hasComments = /#/.test(text);
        if (table !== undefined && !hasComments) expect(Object.keys(table)).not.toEqual([]);
      }),
    );
  });

  test('a requirement moves to another kind as it is written', () => {
    fc.assert(
      fc.property(anyProject, fc.nat(), fc.constantFrom(...KINDS), ({ needs, text }, pick, to) => {
        fc.pre(needs.length > 0);
        const [name, kind] = needs[pick % needs.length]!;
        fc.pre(kind !== to);
        const after = done(text, moveRequirement(kind, to, name));
        const was = needsOf(text);
        const expected = new Map(was).set(`${to} ${name}`, was.get(`${kind} ${name}`)!);
        expected.delete(`${kind} ${name}`);
        expect(needsOf(after)).toEqual(expected);
      }),
    );
  });

  test('a list gains and loses texts, and comments of what stays are beside it', () => {
    fc.assert(
      fc.property(anyProject, fc.subarray(['x', 'y', 'z']), ({ implicit, text }, stay) => {
        const now = implicit ?? [];
        const wanted = [...now.filter((one) => stay.includes(one)), 'new-one'];
        const after = done(text, [setValue(['use', 'implicit'], wanted)]);
        expect(readProjectManifest(after).project!.implicit).toEqual(wanted);
        expect(needsOf(after)).toEqual(needsOf(text));
        const believed = done(text, [believeUse('more', now)]);
        expect(readProjectManifest(believed).project!.implicit).toEqual([...now, 'more']);
        expect(commentsOf(believed)).toEqual(commentsOf(text));
        expectOthersToStay(text, believed, [
          'implicit',
          'use',
          '"x',
          '"y',
          '"z',
          "'",
          '"""',
          ']',
          '\\u00',
        ]);
      }),
    );
  });
});

const anyShared = fc
  .record({
    shared: fc.dictionary(
      fc.constantFrom('ash', 'birch', 'dog.wood'),
      fc.constantFrom('^1.0.0', '~2.0.0'),
    ),
    lockstep: fc.dictionary(
      fc.constantFrom('grid', 'form.s'),
      fc.record({ range: fc.constant('4.1.0'), packages: fc.constant(['m-core', 'm-form']) }),
      { maxKeys: 1 },
    ),
    everywhere: fc.dictionary(
      fc.constantFrom('lint', 'test'),
      fc.constantFrom<PlainTable>(
        { range: '^1.0.0' },
        { range: '^1.0.0', kind: 'dev', except: ['attic'] },
      ),
    ),
    pins: fc.dictionary(fc.constantFrom('tarn', 'ash'), fc.constant('1.3.1')),
    exceptions: fc.uniqueArray(fc.constantFrom('web', 'desk', 'till'), { maxLength: 3 }),
    muted: fc.uniqueArray(fc.constantFrom('unused web ash', 'loose desk birch'), { maxLength: 2 }),
    choices: anyChoices,
  })
  .map(({ exceptions, muted, choices, ...tables }) => {
    const whys = { reason: 'so it is', owner: 'kiosk crew', until: new Raw('2027-03-31') };
    const table: PlainTable = {
      format: new Raw('1'),
      ...Object.fromEntries(
        Object.entries(tables).filter(([, one]) => Object.keys(one).length > 0),
      ),
      ...(exceptions.length === 0
        ? {}
        : {
            exceptions: exceptions.map((project) => ({
              project,
              package: 'ash',
              range: '^0.9.0',
              ...whys,
            })),
          }),
      ...(muted.length === 0 ? {} : { muted: muted.map((finding) => ({ finding, ...whys })) }),
    };
    return { table, text: spelt(table, choices) };
  });

const WHY = { reason: 'a new one', owner: 'gate crew', until: '2028-01-31' };
const SAID_WHY = { ...WHY };

/** Edits of the shared file with what they make of the data. */
const EDITS: Readonly<
  Record<string, readonly [plans: readonly TreePlan[], change: (data: Shared) => void]>
> = {
  'agree on a package': [
    [setShared('cat', '^9.9.9')],
    (data) => ((data.shared ??= {})['cat'] = '^9.9.9'),
  ],
  'agree on another range': [
    [setShared('ash', '^9.9.9')],
    (data) => ((data.shared ??= {})['ash'] = '^9.9.9'),
  ],
  'agree no more': [[dropShared('ash')], (data) => delete data.shared?.['ash']],
  'a name with a dot': [[dropShared('dog.wood')], (data) => delete data.shared?.['dog.wood']],
  'a lockstep set': [
    setLockstep('grid', '5.0.0', ['m-core', 'm-more']),
    (data) => ((data.lockstep ??= {})['grid'] = { range: '5.0.0', packages: ['m-core', 'm-more'] }),
  ],
  'a set whose name has a dot': [
    setLockstep('form.s', '5.0.0', ['m-core']),
    (data) => ((data.lockstep ??= {})['form.s'] = { range: '5.0.0', packages: ['m-core'] }),
  ],
  'no lockstep set': [[dropLockstep('grid')], (data) => delete data.lockstep?.['grid']],
  everywhere: [
    setEverywhere('lint', '^2.0.0', 'dev', ['attic', 'barn']),
    (data) =>
      ((data.everywhere ??= {})['lint'] = {
        range: '^2.0.0',
        kind: 'dev',
        except: ['attic', 'barn'],
      }),
  ],
  'everywhere, new': [
    setEverywhere('types', '^2.0.0', 'runtime', []),
    (data) => ((data.everywhere ??= {})['types'] = { range: '^2.0.0' }),
  ],
  'not everywhere': [[dropEverywhere('lint')], (data) => delete data.everywhere?.['lint']],
  pin: [setPin('tarn', '1.4.0', []), (data) => ((data.pins ??= {})['tarn'] = '1.4.0')],
  'a pin that leaves projects out': [
    setPin('tarn', '1.4.0', ['web', 'barn']),
    (data) => ((data.pins ??= {})['tarn'] = { version: '1.4.0', except: ['web', 'barn'] }),
  ],
  'a pin that leaves other projects out': [
    [...setPin('tarn', '1.4.0', ['web']), ...setPin('tarn', '1.5.0', ['barn'])],
    (data) => ((data.pins ??= {})['tarn'] = { version: '1.5.0', except: ['barn'] }),
  ],
  unpin: [[dropPin('tarn')], (data) => delete data.pins?.['tarn']],
  'an exception': [
    setException({ project: 'web', package: 'ash', range: '^0.8.0', ...WHY }),
    (data) => {
      const others = (data.exceptions ?? []).filter((one) => one['project'] !== 'web');
      data.exceptions = [
        ...others,
        { project: 'web', package: 'ash', range: '^0.8.0', ...SAID_WHY },
      ];
    },
  ],
  'no exception': [
    [dropException('web', 'ash')],
    (data) => (data.exceptions = data.exceptions?.filter((one) => one['project'] !== 'web')),
  ],
  mute: [
    setMuted({ finding: 'cycle kit web', ...WHY }),
    (data) => (data.muted = [...(data.muted ?? []), { finding: 'cycle kit web', ...SAID_WHY }]),
  ],
  'not muted': [
    [dropMuted('unused web ash')],
    (data) => (data.muted = data.muted?.filter((one) => one['finding'] !== 'unused web ash')),
  ],
};

interface Shared {
  shared?: Record<string, unknown>;
  lockstep?: Record<string, unknown>;
  everywhere?: Record<string, unknown>;
  pins?: Record<string, unknown>;
  exceptions?: Record<string, unknown>[] | undefined;
  muted?: Record<string, unknown>[] | undefined;
}

/** Tables and lists that are empty say as much as those that are not there. */
function withoutEmpty(data: unknown): unknown {
  return Object.fromEntries(
    Object.entries(data as object).filter(
      ([, value]) =>
        value !== undefined &&
        (typeof value !== 'object' || Object.keys(value as object).length > 0),
    ),
  );
}

describe('a shared file in any spelling', () => {
  test.each(Object.entries(EDITS))('%s', (_, [plans, change]) => {
    fc.assert(
      fc.property(anyShared, ({ table, text }) => {
        const expected = structuredClone(said(table)) as Shared;
        // Of a list that is nobody sorts, what is new comes last.
        change(expected);
        const after = done(text, plans);
        expect(withoutEmpty(meaning(after))).toEqual(withoutEmpty(expected));
        expect(done(after, plans)).toBe(after);
      }),
    );
  });
});
