import fc from 'fast-check';
import { expect, test } from 'vitest';
import { readPackageRecord, type PackageRecords } from '../registry/index.js';
import { certify, checkCertificates, resolve, type Resolution } from '../resolve/index.js';
import {
  anyAnswerableWorld,
  filesOf,
  recordsOf,
  ROOT,
  workspaceOf,
  type World,
} from '../resolve/world.arbitrary.js';
import { LOCK_FILE, readWorkspace, type WorkspaceFiles } from '../workspace/index.js';
import { checkLockAgainst } from './check-lock-against.js';
import { checkLock } from './check-lock.js';
import { printLock } from './print-lock.js';
import { readLock } from './read-lock.js';

const DAY = '2025-01-01';
const DOTTED_ROOT = ROOT.replace(
  'registry = "main"\n',
  '[registries]\nmain = { names = ["*"], versions = "dotted" }\n',
);

/** Every whole version without the 0 at its end, where it has one: `^1.0.0 || 2.1.3` → `^1.0 || 2.1.3`. */
function short(text: string): string {
  return text.replace(/(\d+\.\d+)\.0\b/g, '$1');
}

function shortRanges(ranges: Readonly<Record<string, string>>): Record<string, string> {
  return Object.fromEntries(Object.entries(ranges).map(([name, range]) => [name, short(range)]));
}

/** The same world, its versions spelt with two numbers wherever that will do. */
function dotted({ registry, projects }: World): World {
  return {
    projects: Object.fromEntries(
      Object.entries(projects).map(([name, ranges]) => [name, shortRanges(ranges)]),
    ),
    registry: Object.fromEntries(
      Object.entries(registry).map(([name, releases]) => [
        name,
        Object.fromEntries(
          Object.entries(releases).map(([version, { needs, ...release }]) => [
            short(version),
            { ...release, needs: shortRanges(needs ?? {}) },
          ]),
        ),
      ]),
    ),
  };
}

/** The resolution of a world with the answer to every requirement, versions spelt short. */
function answersOf(resolution: Resolution | null): unknown {
  if (resolution === null) return null;
  const of = (all: Resolution['projects'][number]['requirements']) =>
    all.map(({ name, range, answer }) => [
      name,
      range && short(range),
      answer.kind === 'copy' ? short(answer.version) : answer,
    ]);
  return [
    resolution.projects.map((one) => [one.folder, of(one.requirements)]),
    resolution.copies.map((one) => [one.name, short(one.version), of(one.requirements)]),
  ];
}

function resolved(
  own: WorkspaceFiles,
  records: PackageRecords,
  before: Resolution | null = null,
): Resolution | null {
  const outcome = resolve({ workspace: workspaceOf(own), records, asOf: DAY, before });
  return outcome.kind === 'answered' ? outcome.resolution : null;
}

test('versions with fewer numbers have the answers of the same versions with three', () => {
  fc.assert(
    fc.property(anyAnswerableWorld, (world) => {
      const other = dotted(world);
      const own = filesOf(other.projects, { 'ledger.toml': DOTTED_ROOT });
      expect(answersOf(resolved(own, recordsOf(other.registry, 'dotted')))).toEqual(
        answersOf(resolved(filesOf(world.projects), recordsOf(world.registry))),
      );
    }),
  );
});

test('a lockfile of dotted versions reads back, is consistent and proven, and locking again gives the same bytes', () => {
  fc.assert(
    fc.property(anyAnswerableWorld, (world) => {
      const other = dotted(world);
      const own = filesOf(other.projects, { 'ledger.toml': DOTTED_ROOT });
      const records = recordsOf(other.registry, 'dotted');
      const first = resolved(own, records);
      fc.pre(first !== null);
      const text = printLock(first);
      const reading = readLock(text);
      expect(reading.kind === 'read' && printLock(reading.resolution)).toBe(text);
      const locked = new Map(own).set(LOCK_FILE, text);
      expect(checkLock(workspaceOf(own), locked, undefined, DAY).reasons).toEqual([]);
      expect(checkLockAgainst(workspaceOf(own), locked, { records, asOf: DAY })!.state).toBe(
        'consistent',
      );
      expect(printLock(resolved(own, records, first)!)).toBe(text);
      const certificates = certify(workspaceOf(own), records, DAY, first);
      expect(checkCertificates(workspaceOf(own), records, DAY, first, certificates)).toEqual([]);
    }),
  );
});

const ROOT_OF_TWO = ROOT.replace(
  'registry = "main"\n',
  '[registries]\nyard = { names = ["yard-*"], versions = "dotted" }\nmain = ["*"]\n',
);

test('what is written of a package is read as its own registry writes versions, and refused with its place otherwise', () => {
  const problemsOf = (needs: Record<string, string>, shared: string): readonly string[] => {
    const files = filesOf(
      { web: needs },
      { 'ledger.toml': ROOT_OF_TWO, 'ledger.shared.toml': shared },
    );
    return readWorkspace(files).problems.map(
      ({ file, problem }) => `${file} ${problem.code} ${'key' in problem ? problem.key : ''}`,
    );
  };
  const none = 'format = 1\n';
  expect(problemsOf({ 'yard-log': '^1.2.3.4', log: '^1.2.3' }, none)).toEqual([]);
  expect(problemsOf({ 'yard-log': '2.0b1' }, `${none}[pins]\nyard-log = "2.0b1"\n`)).toEqual([]);
  expect(problemsOf({ log: '^1.2.3.4' }, none)).toEqual([
    'web/ledger.project.toml RANGE_INVALID log',
  ]);
  expect(problemsOf({}, `${none}[shared]\nlog = "^1.2.3.4"\n`)).toEqual([
    'ledger.shared.toml RANGE_INVALID log',
  ]);
  expect(problemsOf({}, `${none}[pins]\nlog = "1.2"\n`)).toEqual([
    'ledger.shared.toml VERSION_INVALID log',
  ]);
});

test('a release may ask another registry by its versions; what is no range over them admits nothing', () => {
  const record = (name: string, versions: readonly string[], needs: Record<string, string>) => ({
    name,
    releases: versions.map((version) => ({
      version,
      published: '2024-01-01T00:00:00Z',
      needs,
      archive: {
        path: '/a',
        integrity: 'sha256-q6urq6urq6urq6urq6urq6urq6urq6urq6urq6urq6s=',
        bytes: 1,
      },
    })),
  });
  const world = (range: string): Resolution | null => {
    const documents = [
      [record('log', ['1.0.0'], { 'yard-log': range }), 'semver'],
      [record('yard-log', ['1.2', '1.2.0.4', '2.0b1'], {}), 'dotted'],
    ] as const;
    const records = new Map(
      documents.map(([document, scheme]) => {
        const reading = readPackageRecord(document, scheme);
        if (!reading.ok) throw new Error(reading.problem.message);
        return [reading.record.name, reading.record];
      }),
    );
    return resolved(filesOf({ web: { log: '^1.0.0' } }, { 'ledger.toml': ROOT_OF_TWO }), records);
  };
  const yard = (range: string) =>
    world(range)?.copies.find(({ name }) => name === 'yard-log')?.version ?? null;
  expect(yard('1.2')).toBe('1.2');
  expect(yard('^1.2')).toBe('1.2.0.4');
  expect(yard('>=2.0a')).toBe('2.0b1');
  expect(yard('vers:semver/1.2.0')).toBeNull();
});
