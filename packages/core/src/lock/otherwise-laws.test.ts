import fc from 'fast-check';
import { expect, test } from 'vitest';
import {
  certify,
  checkCertificates,
  copyKey,
  Engine,
  resolve,
  type Resolution,
} from '../resolve/index.js';
import {
  anyAnswerableWorld,
  filesOf,
  recordsOf,
  workspaceOf,
  type RegistrySketch,
  type World,
} from '../resolve/world.arbitrary.js';
import { LOCK_FILE, type WorkspaceFiles } from '../workspace/index.js';
import { checkLockAgainst } from './check-lock-against.js';
import { checkLock } from './check-lock.js';
import { printLock } from './print-lock.js';

const DAY = '2025-01-01';

/** A line by which what a package's releases ask for is answered otherwise. */
interface Line {
  readonly of: string;
  readonly package: string;
  readonly range: string;
}

const anyLine: fc.Arbitrary<Line> = fc.record({
  of: fc.constantFrom('ash', 'birch', 'cedar', 'dogwood', 'elm'),
  package: fc.constantFrom('ash', 'birch', 'cedar', 'dogwood', 'elm'),
  range: fc.constantFrom('*', '^1.0.0', '^2.0.0', '>=1.1.0', '<2.0.0 || ^3.0.0'),
});

function files({ projects }: World, lines: readonly Line[], until = DAY): WorkspaceFiles {
  const tables = lines.map(
    (line) =>
      `[[otherwise]]\nof = "${line.of}"\npackage = "${line.package}"\nrange = "${line.range}"\nreason = "tried"\nowner = "kiosk crew"\nuntil = ${until}\n`,
  );
  return filesOf(projects, { 'ledger.shared.toml': `format = 1\n${tables.join('')}` });
}

/** The same world whose releases ask themselves for what the lines answer. */
function asIfAsked(registry: RegistrySketch, lines: readonly Line[]): RegistrySketch {
  return Object.fromEntries(
    Object.entries(registry).map(([name, releases]) => [
      name,
      Object.fromEntries(
        Object.entries(releases).map(([version, release]) => {
          const needs = Object.entries(release.needs ?? {}).map(([needed, range]) => [
            needed,
            lines.find((one) => one.of === name && one.package === needed)?.range ?? range,
          ]);
          return [
            version,
            { ...release, needs: Object.fromEntries(needs) as Record<string, string> },
          ];
        }),
      ),
    ]),
  );
}

function resolved(
  registry: RegistrySketch,
  own: WorkspaceFiles,
  before: Resolution | null = null,
  asOf = DAY,
): Resolution | null {
  const outcome = resolve({
    workspace: workspaceOf(own),
    records: recordsOf(registry),
    asOf,
    before,
  });
  return outcome.kind === 'answered' ? outcome.resolution : null;
}

/** What answers what, without what was asked. */
function answersOf(resolution: Resolution | null): readonly string[] | null {
  if (resolution === null) return null;
  const of = (owner: string, all: Resolution['projects'][number]['requirements']) =>
    all.map(({ name, range, answer }) => `${owner} ${name} ${range} ${JSON.stringify(answer)}`);
  return [
    ...resolution.projects.flatMap((one) => of(one.folder, one.requirements)),
    ...resolution.copies.flatMap((one) => of(copyKey(one), one.requirements)),
  ];
}

const anyLines = fc.uniqueArray(anyLine, {
  selector: (line) => `${line.of} ${line.package}`,
  minLength: 1,
  maxLength: 4,
});

test('what is answered otherwise comes out as if the releases asked for it themselves', () => {
  fc.assert(
    fc.property(anyAnswerableWorld, anyLines, (world, lines) => {
      const found = resolved(world.registry, files(world, lines));
      const other = resolved(asIfAsked(world.registry, lines), files(world, []));
      expect(answersOf(found)).toEqual(answersOf(other));
    }),
  );
});

test('the lockfile has both ranges, is consistent, and locking again gives the same bytes', () => {
  fc.assert(
    fc.property(anyAnswerableWorld, anyLines, (world, lines) => {
      const own = files(world, lines);
      const first = resolved(world.registry, own);
      fc.pre(first !== null);
      const records = recordsOf(world.registry);
      for (const { name, version, requirements } of first.copies)
        for (const one of requirements)
          expect(one.written).toBe(world.registry[name]![version]!.needs![one.name]);
      const text = printLock(first);
      const locked = new Map(own).set(LOCK_FILE, text);
      const workspace = workspaceOf(own);
      expect(checkLock(workspace, locked, undefined, DAY).reasons).toEqual([]);
      expect(checkLockAgainst(workspace, locked, { records, asOf: DAY })!.state).toBe('consistent');
      expect(printLock(resolved(world.registry, own, first)!)).toBe(text);
      const certificates = certify(workspace, records, DAY, first);
      expect(checkCertificates(workspace, records, DAY, first, certificates)).toEqual([]);
    }),
  );
});

test('check says stale exactly where the lines that hold have moved the lockfile’s ranges, whatever the registry says', () => {
  fc.assert(
    fc.property(anyAnswerableWorld, anyLines, anyLines, (world, before, after) => {
      const first = resolved(world.registry, files(world, before));
      fc.pre(first !== null);
      const own = files(world, after);
      const locked = new Map(own).set(LOCK_FILE, printLock(first));
      const moved = first.copies.some(({ name, requirements }) =>
        requirements.some(({ name: needed, written, range }) => {
          const line = after.find((one) => one.of === name && one.package === needed);
          return range !== (line?.range ?? written);
        }),
      );
      const { reasons } = checkLock(workspaceOf(own), locked, undefined, DAY);
      expect(reasons.some(({ code }) => code === 'OTHERWISE_CHANGED')).toBe(moved);
    }),
  );
});

test('an engine that goes from one set of lines to another answers as a fresh one', () => {
  fc.assert(
    fc.property(
      anyAnswerableWorld,
      fc.array(fc.array(anyLine, { maxLength: 2 }), { maxLength: 4 }),
      (world, sets) => {
        const records = recordsOf(world.registry);
        const engine = new Engine(records);
        for (const lines of sets) {
          const unique = lines.filter(
            (one, i) =>
              lines.findIndex((two) => two.of === one.of && two.package === one.package) === i,
          );
          const question = {
            workspace: workspaceOf(files(world, unique)),
            asOf: DAY,
            before: null,
          };
          expect(engine.resolve(question)).toEqual(new Engine(records).resolve(question));
        }
      },
    ),
  );
});

test('a line counts through its last day, and no longer', () => {
  const world: World = {
    registry: {
      log: { '1.0.0': { needs: { json: '^1.0.0' } } },
      json: { '1.0.0': {}, '2.0.0': {} },
    },
    projects: { web: { log: '^1.0.0' } },
  };
  const own = files(world, [{ of: 'log', package: 'json', range: '^2.0.0' }], '2025-03-31');
  const jsonAt = (asOf: string): string | undefined =>
    resolved(world.registry, own, null, asOf)!.copies.find(({ name }) => name === 'json')?.version;
  expect(jsonAt('2025-03-31')).toBe('2.0.0');
  expect(jsonAt('2025-04-01')).toBe('1.0.0');
  const lock = printLock(resolved(world.registry, own)!);
  expect(lock).toContain('  runtime json "^1.0.0" as "^2.0.0" by 2.0.0');
  const locked = new Map(own).set(LOCK_FILE, lock);
  const check = (day: string) => checkLock(workspaceOf(own), locked, undefined, day);
  expect(check('2025-03-31').state).toBe('consistent');
  expect(check('2025-04-01').reasons.map(({ code, message }) => [code, message])).toEqual([
    [
      'OTHERWISE_CHANGED',
      'log 1.0.0 requires json ^1.0.0, which is answered as ^1.0.0 now; the lockfile answers it as ^2.0.0.',
    ],
  ]);
});
