import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { resolve } from '../resolve/index.js';
import { anyPeerWorld, filesOf, recordsOf, ROOT, workspaceOf } from '../resolve/world.arbitrary.js';
import { explainLockChange } from './lock-change-causes.js';
import { printLock } from './print-lock.js';
import { readLock, type KnownBlocks } from './read-lock.js';
import { checkLock } from './check-lock.js';
import { LOCK_FILE } from '../workspace/index.js';

const asOf = '2025-01-01';

/** A lockfile with every kind of line. */
const FULL = (() => {
  const records = recordsOf({
    ui: {
      '1.0.0': {
        needs: { log: '^1.0.0' },
        optional: { native: { range: '*', when: ['linux-*'] }, lost: '^9.0.0' },
        peers: { kit: { range: '^1.0.0' }, log: { range: '*', optional: true } },
        deprecated: 'say "no"\nmore',
      },
    },
    kit: { '1.0.0': {} },
    log: { '1.0.0': {} },
    lost: { '1.0.0': {} },
    native: { '1.0.0': { targets: ['linux-x64'] } },
  });
  const files = filesOf(
    { a: { ui: 'shared', b: 'workspace' }, b: { log: '*' } },
    { 'ledger.shared.toml': 'format = 1\n[shared]\nui = "^1.0.0"\n' },
  );
  const outcome = resolve({ workspace: workspaceOf(files), records, asOf, before: null });
  if (outcome.kind !== 'answered') throw new Error(outcome.kind);
  return { files, text: printLock(outcome.resolution), resolution: outcome.resolution };
})();

/** One way to spoil a text a little, or to spell the same otherwise. */
const anyMutation: fc.Arbitrary<(text: string) => string> = fc.oneof(
  fc
    .tuple(fc.nat(2000), fc.nat(12), fc.string({ maxLength: 8, unit: 'binary' }))
    .map(([at, cut, insert]) => (text: string) => {
      const start = at % text.length;
      return text.slice(0, start) + insert + text.slice(start + cut);
    }),
  fc.tuple(fc.nat(100), fc.nat(100)).map(([a, b]) => (text: string) => {
    const lines = text.split('\n');
    const [i, j] = [a % lines.length, b % lines.length];
    [lines[i], lines[j]] = [lines[j]!, lines[i]!];
    return lines.join('\n');
  }),
  fc.nat(100).map((a) => (text: string) => {
    const lines = text.split('\n');
    lines.splice(a % lines.length, 1);
    return lines.join('\n');
  }),
  fc
    .tuple(fc.nat(400), fc.constantFrom(' ', '  ', '\t', '\n', '\r\n', '"', '\u00a0'))
    .map(([at, space]) => (text: string) => {
      const blanks = [...text.matchAll(/ |\n/g)].map(({ index }) => index);
      const start = blanks[at % blanks.length]!;
      return text.slice(0, start) + space + text.slice(start + (at % 2));
    }),
  fc.nat(400).map((at) => (text: string) => {
    const words = [...text.matchAll(/[^\s"]+/g)];
    const word = words[at % words.length]!;
    return `${text.slice(0, word.index)}"${word[0]}"${text.slice(word.index + word[0].length)}`;
  }),
);

describe('a lockfile', () => {
  test('has every kind of line in this test', () => {
    for (const part of [
      ' as ',
      ' when ',
      ' skipped ',
      'deprecated',
      'peer',
      'supplied',
      'by project',
    ])
      expect(FULL.text).toContain(part);
  });

  test('is the same when printed and parsed, and the other way round', () => {
    fc.assert(
      fc.property(anyPeerWorld, ({ registry, projects }) => {
        const workspace = workspaceOf(filesOf(projects));
        const outcome = resolve({ workspace, records: recordsOf(registry), asOf, before: null });
        if (outcome.kind !== 'answered') return;
        const text = printLock(outcome.resolution);
        const reading = readLock(text);
        if (reading.kind !== 'read') throw new Error(reading.kind);
        expect(reading).toMatchObject({ kind: 'read', format: 2, isCanonical: true });
        expect(reading.resolution).toEqual(outcome.resolution);
        for (const [block, head] of reading.heads)
          expect(text.slice(head)).toMatch('folder' in block ? /^project / : /^copy /);
        expect(printLock(reading.resolution)).toBe(text);
        const files = new Map(filesOf(projects)).set(LOCK_FILE, text);
        expect(checkLock(workspace, files)).toMatchObject({ state: 'consistent', reasons: [] });
      }),
    );
  });

  test('that was spoilt is refused, or read and known not to be canonical', () => {
    fc.assert(
      fc.property(fc.array(anyMutation, { minLength: 1, maxLength: 3 }), (mutations) => {
        const text = mutations.reduce((spoilt, mutate) => mutate(spoilt), FULL.text);
        const reading = readLock(text);
        if (reading.kind !== 'read') return;
        const printed = printLock(reading.resolution);
        expect(reading.isCanonical).toBe(printed === text);
        const again = readLock(printed);
        expect(again, JSON.stringify(text)).toMatchObject({ format: 2, isCanonical: true });
        expect(again).toMatchObject({ resolution: reading.resolution });
      }),
    );
  });

  test('of which one block is misspelt keeps all the others', () => {
    const broken = FULL.text.replace('runtime log "*" by', 'runtime log "*" bye');
    const reading = readLock(broken);
    if (reading.kind !== 'broken') throw new Error(reading.kind);
    expect(reading.problems).toHaveLength(1);
    expect(reading.kept.copies).toEqual(FULL.resolution.copies);
    expect(reading.kept.projects.map(({ folder }) => folder)).toEqual(['a']);
    expect(readLock(FULL.text.replace('format 2', 'format 9'))).toMatchObject({
      kind: 'broken',
      kept: { projects: [], copies: [] },
    });
  });

  test('read with the blocks of another reads the same', () => {
    fc.assert(
      fc.property(fc.array(anyMutation, { minLength: 1, maxLength: 2 }), (mutations) => {
        const known: KnownBlocks = new Map();
        readLock(FULL.text, known);
        const text = mutations.reduce((spoilt, mutate) => mutate(spoilt), FULL.text);
        expect(readLock(text, known), JSON.stringify(text)).toEqual(readLock(text));
      }),
    );
  });

  test('of any text is read or refused, and nothing is made up', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 200 }), (tail) => {
        const reading = readLock(`deep-ledger lockfile\nformat 2\n${tail}`);
        if (reading.kind === 'read' && tail.trim() === '')
          expect(reading.resolution).toEqual({ projects: [], copies: [] });
        else if (reading.kind === 'read')
          expect(
            reading.resolution.projects.length + reading.resolution.copies.length,
          ).toBeGreaterThan(0);
      }),
    );
  });

  test('of format 1 is read, is stale for that, and is upgraded by locking', () => {
    const old = FULL.text
      .replace('format 2', 'format 1')
      .replace(/ {2}(peer|supplied) .*\n/g, '')
      .replace(/copy kit[^]*?\n\n/, '');
    const files = new Map(FULL.files).set(LOCK_FILE, old);
    const reading = readLock(old);
    expect(reading).toMatchObject({ kind: 'read', format: 1 });
    const state = checkLock(workspaceOf(FULL.files), files);
    expect(state.state).toBe('stale');
    expect(state.reasons.map(({ code, place }) => `${code} ${place.line}`)).toEqual([
      'FORMAT_OLD 2',
    ]);
    expect(readLock(FULL.text.replace('format 2', 'format 3'))).toMatchObject({
      kind: 'broken',
      problems: [{ code: 'LOCK_FORMAT', found: '3' }],
    });
  });
});

describe('supplied peers in a lockfile', () => {
  const state = (text: string): readonly string[] =>
    checkLock(workspaceOf(FULL.files), new Map(FULL.files).set(LOCK_FILE, text)).reasons.map(
      ({ code, place }) => `${code} ${place.line}`,
    );

  test('that are not there, or that nobody asks for, make it stale', () => {
    const line = FULL.text.split('\n').find((one) => one.startsWith('  supplied'))!;
    const head = FULL.text.split('\n').indexOf('project a') + 1;
    expect(state(FULL.text.replace(`${line}\n`, ''))).toContain(`PEER_UNSUPPLIED ${head}`);
    expect(
      state(FULL.text.replace('^1.0.0" by 1.0.0\n\nproject', '^2.0.0" by 1.0.0\n\nproject')),
    ).toContain(`SUPPLY_IDLE ${head}`);
    expect(state(FULL.text.replace(/ {2}peer kit.*\n/, ''))).toContain(`SUPPLY_IDLE ${head}`);
  });
});

test('more copies than a policy allows make a lockfile stale', () => {
  const registry = { log: { '1.0.0': {}, '1.1.0': {}, '2.0.0': {} } };
  const projects = { a: { log: '1.0.0' }, b: { log: '1.1.0' }, c: { log: '2.0.0' } };
  const outcome = resolve({
    workspace: workspaceOf(filesOf(projects)),
    records: recordsOf(registry),
    asOf,
    before: null,
  });
  if (outcome.kind !== 'answered') throw new Error(outcome.kind);
  const text = printLock(outcome.resolution);
  const reasons = (copies: string): readonly string[] => {
    const root = `${ROOT}[policy]\ncopies = "${copies}"\n`;
    const files = new Map(filesOf(projects, { 'ledger.toml': root })).set(LOCK_FILE, text);
    return checkLock(workspaceOf(files), files).reasons.map(
      ({ code, message }) => `${code}: ${message}`,
    );
  };
  expect(reasons('any')).toEqual([]);
  expect(reasons('one')).toEqual([
    'POLICY_UNHEEDED: The policy allows one copy of log; the lockfile has 1.0.0, 1.1.0, 2.0.0.',
  ]);
  expect(reasons('one-per-major')).toEqual([
    'POLICY_UNHEEDED: The policy allows one copy for each major version of log; the lockfile has 1.0.0, 1.1.0.',
  ]);
});

describe('why a lockfile changed', () => {
  const lock = (
    registry: Parameters<typeof recordsOf>[0],
    projects: Parameters<typeof filesOf>[0],
    before: typeof FULL.resolution | null = null,
    refresh: 'all' | undefined = undefined,
  ) => {
    const outcome = resolve({
      workspace: workspaceOf(filesOf(projects)),
      records: recordsOf(registry),
      asOf,
      before,
      ...(refresh === undefined ? {} : { refresh }),
    });
    if (outcome.kind !== 'answered') throw new Error(outcome.kind);
    return outcome.resolution;
  };
  const registry = {
    web: { '1.0.0': { needs: { log: '^1.0.0' } }, '2.0.0': { needs: { log: '^2.0.0' } } },
    log: { '1.0.0': {}, '1.1.0': {}, '2.0.0': {} },
  };

  test('an edit moves a copy, and that one moves another', () => {
    const before = lock(registry, { a: { web: '^1.0.0' } });
    const after = lock(registry, { a: { web: '^2.0.0' } }, before);
    const requirement = {
      project: 'a',
      kind: 'runtime',
      name: 'web',
      from: '^1.0.0',
      to: '^2.0.0',
    };
    expect(explainLockChange(before, after)).toMatchObject({
      requirements: [requirement],
      reanswered: [],
      because: [
        {
          name: 'log',
          from: '1.1.0',
          to: '2.0.0',
          causes: [
            { kind: 'owner', copy: 'web 1.0.0', change: 'went' },
            { kind: 'owner', copy: 'web 2.0.0', change: 'came' },
          ],
        },
        { name: 'web', from: '1.0.0', to: '2.0.0', causes: [{ kind: 'requirement', requirement }] },
      ],
    });
  });

  test('a refresh lets another release answer the same demands', () => {
    const old = { log: { '1.0.0': {} } };
    const before = lock(old, { a: { log: '^1.0.0' } });
    const after = lock(registry, { a: { log: '^1.0.0' } }, before, 'all');
    expect(explainLockChange(before, after)).toMatchObject({
      requirements: [],
      reanswered: [{ owner: 'a', name: 'log', range: '^1.0.0', from: '1.0.0', to: '1.1.0' }],
      because: [{ name: 'log', causes: [{ kind: 'release' }] }],
    });
  });

  test('who requires it no more is not the reason that a version moved for the others', () => {
    const old = { log: { '1.0.0': {} } };
    const before = lock(old, { a: { log: '^1.0.0' }, b: { log: '^1.0.0' } });
    const after = lock(registry, { a: { log: '^1.0.0' }, b: {} }, before, 'all');
    expect(explainLockChange(before, after).because).toMatchObject([
      { name: 'log', from: '1.0.0', to: '1.1.0', causes: [{ kind: 'release' }] },
    ]);
  });

  test('requirements that came and went', () => {
    const before = lock(registry, { a: { log: '1.0.0' } });
    const after = lock(registry, { b: { log: '2.0.0' } }, before);
    expect(explainLockChange(before, after).requirements).toEqual([
      { project: 'a', kind: 'runtime', name: 'log', from: '1.0.0', to: null },
      { project: 'b', kind: 'runtime', name: 'log', from: null, to: '2.0.0' },
    ]);
    expect(explainLockChange(null, after).because).toMatchObject([
      { from: null, to: '2.0.0', causes: [{ kind: 'requirement' }] },
    ]);
    expect(explainLockChange(after, after)).toMatchObject({ because: [], reanswered: [] });
  });
});
