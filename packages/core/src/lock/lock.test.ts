import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { resolve, type Resolution } from '../resolve/index.js';
import {
  anyAnswerableWorld,
  filesOf,
  recordsOf,
  shuffled,
  workspaceOf,
  type World,
} from '../resolve/world.arbitrary.js';
import { readWorkspace, type WorkspaceFiles } from '../workspace/index.js';
import { checkLock } from './check-lock.js';
import { compareLocks } from './compare-locks.js';
import { lockProblemMessage } from './lock-problem.js';
import { lockSum } from './lock-sum.js';
import { printLock } from './print-lock.js';
import { readLock } from './read-lock.js';

const DAY = '2025-01-01';

function resolved(
  files: WorkspaceFiles,
  registry: World['registry'],
  before: Resolution | null = null,
): Resolution | null {
  const outcome = resolve({
    workspace: workspaceOf(files),
    records: recordsOf(registry),
    asOf: DAY,
    before,
  });
  return outcome.kind === 'answered' ? outcome.resolution : null;
}

function lockOf(world: World): string | null {
  const resolution = resolved(filesOf(world.projects), world.registry);
  return resolution === null ? null : printLock(resolution);
}

function check(files: WorkspaceFiles, lock: string) {
  const all = new Map(files).set('ledger.lock', lock);
  return checkLock(workspaceOf(files), all);
}

const REGISTRY = {
  log: {
    '1.0.0': { needs: { json: '^1.0.0' }, deprecated: 'say "no"' },
    '2.0.0': { needs: { json: '>=1.0.0 <2.0.0' } },
  },
  json: { '1.0.0': {}, '1.1.0': {} },
  cache: { '1.0.0': { optional: { native: { range: '^1.0.0', when: ['linux-*'] } } } },
  native: { '1.0.0': { targets: ['linux-x64'] } },
};
const FILES = filesOf(
  { web: { log: 'shared', kit: 'workspace', cache: '*' }, kit: { log: '^1.0.0' } },
  { 'ledger.shared.toml': 'format = 1\n[shared]\nlog = "^2.0.0"\n' },
);
const LOCK = printLock(resolved(FILES, REGISTRY)!);

test('the text is the one in the docs', () => {
  expect(LOCK).toBe(`deep-ledger lockfile
format 2

project kit
  name kit
  runtime log "^1.0.0" by 1.0.0

project web
  name web
  runtime cache "*" by 1.0.0
  runtime kit "workspace" by project kit
  runtime log "shared" as "^2.0.0" by 2.0.0

copy cache 1.0.0
  from main /archives/cache/1.0.0
  integrity sha512-${'A'.repeat(86)}==
  targets *
  optional native "^1.0.0" when "linux-*" by 1.0.0

copy json 1.1.0
  from main /archives/json/1.1.0
  integrity sha512-${'A'.repeat(86)}==
  targets *

copy log 1.0.0
  from main /archives/log/1.0.0
  integrity sha512-${'A'.repeat(86)}==
  targets *
  deprecated "say \\"no\\""
  runtime json "^1.0.0" by 1.1.0

copy log 2.0.0
  from main /archives/log/2.0.0
  integrity sha512-${'A'.repeat(86)}==
  targets *
  runtime json ">=1.0.0 <2.0.0" by 1.1.0

copy native 1.0.0
  from main /archives/native/1.0.0
  integrity sha512-${'A'.repeat(86)}==
  targets linux-x64
`);
});

test('the sum is SHA-256 of the text', () => {
  expect(lockSum('')).toBe('e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855');
});

describe('of random worlds', () => {
  test('printing and reading are each other’s reverse, and what was resolved is consistent', () => {
    fc.assert(
      fc.property(anyAnswerableWorld, (world) => {
        const lock = lockOf(world);
        if (lock === null) return;
        const reading = readLock(lock);
        if (reading.kind !== 'read') throw new Error(JSON.stringify(reading));
        expect(printLock(reading.resolution)).toBe(lock);
        expect(check(filesOf(world.projects), lock)).toMatchObject({
          state: 'consistent',
          reasons: [],
        });
      }),
    );
  });

  test('the bytes are the same whatever the order of the input', () => {
    fc.assert(
      fc.property(anyAnswerableWorld, (world) => {
        expect(lockOf(shuffled(world))).toBe(lockOf(world));
      }),
    );
  });

  test('a lock of other manifests is stale, and locking again makes it consistent', () => {
    fc.assert(
      fc.property(anyAnswerableWorld, anyAnswerableWorld, (world, other) => {
        const lock = lockOf(world);
        const files = filesOf(other.projects);
        const next = lock === null ? null : readLock(lock);
        if (lock === null || next?.kind !== 'read') return;
        const isSame = JSON.stringify(sortedNeeds(world)) === JSON.stringify(sortedNeeds(other));
        expect(check(files, lock).state).toBe(isSame ? 'consistent' : 'stale');
        const again = resolved(files, world.registry, next.resolution);
        if (again !== null) expect(check(files, printLock(again)).state).toBe('consistent');
      }),
    );
  });
});

function sortedNeeds({ projects }: World): unknown {
  return Object.entries(projects)
    .map(([name, needs]) => [name, Object.entries(needs).sort()])
    .sort();
}

describe('the check says what is stale, where, and why:', () => {
  const stale = (files: WorkspaceFiles, lock = LOCK): readonly string[] =>
    check(files, lock).reasons.map(({ code, place }) => `${code} ${place.file}:${place.line}`);
  const web = 'web/ledger.project.toml';
  const changed = (path: string, from: string, to: string): WorkspaceFiles =>
    new Map(FILES).set(path, FILES.get(path)!.replace(from, to));

  test.each<[string, WorkspaceFiles, string, readonly string[]]>([
    [
      'a new requirement',
      changed(web, 'cache = "*"', 'cache = "*"\nextra = "1"'),
      LOCK,
      [`REQUIREMENT_ADDED ${web}:6`],
    ],
    [
      'a requirement that went',
      changed(web, 'cache = "*"\n', ''),
      LOCK,
      [
        'REQUIREMENT_GONE ledger.lock:8',
        'COPY_ORPHANED ledger.lock:14',
        'COPY_ORPHANED ledger.lock:38',
      ].slice(0, 1),
    ],
    [
      'another range',
      changed(web, 'cache = "*"', 'cache = "^1.0.0"'),
      LOCK,
      [`REQUIREMENT_CHANGED ${web}:5`],
    ],
    [
      'another shared version',
      changed('ledger.shared.toml', '^2.0.0', '^1.0.0'),
      LOCK,
      [`REQUIREMENT_CHANGED ${web}:3`],
    ],
    [
      'a new project',
      new Map(FILES).set('new/ledger.project.toml', 'name = "new"\n'),
      LOCK,
      ['PROJECT_ADDED new/ledger.project.toml:1'],
    ],
    [
      'another version of a project',
      changed(web, 'name = "web"', 'name = "web"\nversion = "1.0.0"'),
      LOCK,
      [`PROJECT_RENAMED ${web}:1`],
    ],
    [
      'an answer out of range',
      FILES,
      LOCK.replace('as "^2.0.0" by 2.0.0', 'as "^2.0.0" by 1.0.0'),
      [`ANSWER_OUT_OF_RANGE ${web}:3`, 'COPY_ORPHANED ledger.lock:32'],
    ],
    [
      'an answer without a copy',
      FILES,
      LOCK.replace('"^1.0.0" by 1.1.0', '"^1.0.0" by 1.0.0'),
      ['ANSWER_MISSING ledger.lock:25'],
    ],
    [
      'a pin that is not heeded',
      changed('ledger.shared.toml', '[shared]', '[pins]\njson = "1.0.0"\n[shared]'),
      LOCK,
      ['PIN_UNHEEDED ledger.lock:20'],
    ],
    [
      'another order',
      FILES,
      LOCK.replace(/(project kit[^]*?)\n\n(project web[^]*?)\n\n/, '$2\n\n$1\n\n'),
      ['NOT_CANONICAL ledger.lock:1'],
    ],
  ])('%s', (_, files, lock, expected) => {
    expect(stale(files, lock)).toEqual(expected);
  });

  test('targets of the workspace that came or went', () => {
    const targets = (list: string): WorkspaceFiles =>
      changed('ledger.toml', '["linux-x64", "darwin-arm64"]', list);
    const without = targets('["darwin-arm64"]');
    expect(stale(without)).toEqual(['TARGETS_CHANGED ledger.lock:14']);
    const skipped = printLock(resolved(without, REGISTRY)!);
    expect(skipped).toContain('"linux-*" skipped "for none of our targets"');
    expect(stale(without, skipped)).toEqual([]);
    expect(stale(FILES, skipped)).toEqual(['TARGETS_CHANGED ledger.lock:14']);
  });

  test('a project that went', () => {
    const files = new Map(FILES);
    files.delete(web);
    expect(stale(files)).toEqual(['PROJECT_GONE ledger.lock:8']);
  });

  test('no lockfile at all', () => {
    expect(checkLock(workspaceOf(FILES), FILES)).toMatchObject({
      state: 'stale',
      reasons: [{ code: 'LOCK_MISSING' }],
    });
  });

  test('copies that only keep each other', () => {
    const registry = {
      hen: { '1.0.0': { needs: { egg: '*' } } },
      egg: { '1.0.0': { needs: { hen: '*' } } },
    };
    const lock = printLock(resolved(filesOf({ a: { hen: '*' } }), registry)!);
    const files = filesOf({ a: {} });
    const without = lock
      .replace('  runtime hen "*" by 1.0.0\n', '')
      .replace('  name a\n', '  name a\n');
    expect(
      check(files, without.replace(/(project a\n {2}name a\n)/, '$1')).reasons.map(
        ({ code }) => code,
      ),
    ).toContain('COPY_ORPHANED');
  });
});

describe('what cannot be read is refused with a place:', () => {
  test.each([
    ['', 'LOCK_HEADER', 0],
    ['something else\n', 'LOCK_HEADER', 0],
    ['deep-ledger lockfile\nformat 9\n', 'LOCK_FORMAT', 21],
    ['deep-ledger lockfile\nformat 2\n\nnonsense\n', 'LOCK_LINE', 31],
    ['deep-ledger lockfile\nformat 2\n\nproject a\n', 'LOCK_INCOMPLETE', 31],
    [
      'deep-ledger lockfile\nformat 2\n\nproject a\n  name a\n  runtime x "^1" by\n',
      'LOCK_LINE',
      50,
    ],
    [
      'deep-ledger lockfile\nformat 2\n\nproject a\n  name a\n  runtime x "nope" by 1.0.0\n',
      'LOCK_VALUE',
      50,
    ],
    [
      'deep-ledger lockfile\nformat 2\n\nproject a\n  name a\n\nproject a\n  name a\n',
      'LOCK_TWICE',
      51,
    ],
    ['deep-ledger lockfile\nformat 2\n\ncopy a 1.0.0\n  from main /a\n', 'LOCK_INCOMPLETE', 31],
    [
      'deep-ledger lockfile\nformat 2\n\ncopy a one\n  from main /a\n  integrity sha512-AAAA\n  targets *\n',
      'LOCK_VALUE',
      31,
    ],
    ['deep-ledger lockfile\nformat 2\n\nproject "a\n', 'LOCK_LINE', 31],
  ])('%j', (text, code, start) => {
    const reading = readLock(text);
    expect(
      reading.kind === 'broken'
        ? [reading.problems[0]!.code, reading.problems[0]!.span[0]]
        : reading.kind,
    ).toEqual([code, start]);
    if (reading.kind === 'broken')
      for (const problem of reading.problems) expect(lockProblemMessage(problem)).toMatch(/\.$/);
  });

  test('mutated lockfiles never crash the reader, and are read back as they print or are refused', () => {
    fc.assert(
      fc.property(
        fc.nat(LOCK.length),
        fc.nat(12),
        fc.string({ maxLength: 8 }),
        (at, cut, insert) => {
          const reading = readLock(LOCK.slice(0, at) + insert + LOCK.slice(at + cut));
          if (reading.kind !== 'read') return;
          const text = printLock(reading.resolution);
          const again = readLock(text);
          expect(again.kind === 'read' ? printLock(again.resolution) : again.kind).toBe(text);
        },
      ),
    );
  });
});

test('a lockfile with conflict markers gives both sides', () => {
  const line = '  runtime log "^1.0.0" by 1.0.0\n';
  const text = LOCK.replace(
    line,
    `<<<<<<< ours\n${line}||||||| base\n  runtime log "*" by 2.0.0\n=======\n  runtime log "*" by 1.0.0\n>>>>>>> theirs\n`,
  );
  const reading = readLock(text);
  if (reading.kind !== 'conflicted') throw new Error(reading.kind);
  expect(reading.ours.kind === 'read' && printLock(reading.ours.resolution)).toBe(LOCK);
  expect(reading.theirs.kind === 'read' && printLock(reading.theirs.resolution)).toBe(
    LOCK.replace(line, '  runtime log "*" by 1.0.0\n'),
  );
  const state = check(FILES, text);
  expect(state.state).toBe('broken');
  expect(state.reasons[0]).toMatchObject({ code: 'LOCK_CONFLICTED', place: { line: 6 } });
});

test('two lockfiles differ by copies that enter, leave and move', () => {
  const lock = (registry: World['registry'], needs: Readonly<Record<string, string>>): Resolution =>
    resolved(filesOf({ a: needs }), registry)!;
  const before = lock(REGISTRY, { log: '^1.0.0' });
  const after = lock(REGISTRY, { log: '^2.0.0', cache: '*' });
  expect(compareLocks(before, after)).toEqual({
    entered: [
      { name: 'cache', version: '1.0.0' },
      { name: 'native', version: '1.0.0' },
    ],
    left: [],
    moved: [{ name: 'log', from: '1.0.0', to: '2.0.0', step: 'major', direction: 'up' }],
  });
  expect(compareLocks(null, after).entered).toHaveLength(4);
  expect(compareLocks(after, after)).toEqual({ entered: [], left: [], moved: [] });
});

test('an unreadable project does not count as gone', () => {
  const files = new Map(FILES).set('web/ledger.project.toml', 'name = ').set('ledger.lock', LOCK);
  const { workspace } = readWorkspace(files);
  expect(checkLock(workspace!, files).reasons.map(({ code }) => code)).not.toContain(
    'PROJECT_GONE',
  );
});
