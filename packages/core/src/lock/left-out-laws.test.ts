import fc from 'fast-check';
import { expect, test } from 'vitest';
import {
  certify,
  checkCertificates,
  Engine,
  resolve,
  type Resolution,
  type ResolveOutcome,
} from '../resolve/index.js';
import {
  anyAnswerableWorld,
  filesOf,
  recordsOf,
  ROOT,
  workspaceOf,
  type World,
} from '../resolve/world.arbitrary.js';
import { rangeContains, requireRange, requireVersion } from '../version/index.js';
import { LOCK_FILE, type WorkspaceFiles } from '../workspace/index.js';
import { checkLockAgainst } from './check-lock-against.js';
import { checkLock } from './check-lock.js';
import { printLock } from './print-lock.js';

const DAY = '2025-01-01';

/** A pin, and the projects that it leaves out. */
interface Pin {
  readonly name: string;
  readonly version: string;
  readonly except: readonly string[];
}

/** A world with pins of releases that it has. */
const anyPinned: fc.Arbitrary<readonly [World, readonly Pin[]]> = anyAnswerableWorld.chain(
  (world) =>
    fc.tuple(
      fc.constant(world),
      fc
        .subarray(Object.keys(world.registry).filter((one) => size(world.registry[one]!) > 0))
        .chain((names) =>
          fc.tuple(
            ...names.map((name) =>
              fc.record({
                name: fc.constant(name),
                version: fc.constantFrom(...Object.keys(world.registry[name]!)),
                except: fc.subarray(Object.keys(world.projects)),
              }),
            ),
          ),
        ),
    ),
);

function size(object: object): number {
  return Object.keys(object).length;
}

const ONE_COPY = `${ROOT}[policy]\ncopies = "one"\n`;

function pinnedFiles({ projects }: World, pins: readonly Pin[], root = ROOT): WorkspaceFiles {
  const lines = pins.map(
    ({ name, version, except }) =>
      `${name} = { version = "${version}", except = ${JSON.stringify(except)} }\n`,
  );
  return filesOf(projects, {
    'ledger.toml': root,
    'ledger.shared.toml': `format = 1\n[pins]\n${lines.join('')}`,
  });
}

/** The same world in which everybody whom a pin holds asks for that version, or for what nobody has. */
function asIfAsked({ registry, projects }: World, pins: readonly Pin[]): World {
  const asked = (by: string | null, name: string, range: string): [string, string] => {
    const pin = pins.find((one) => one.name === name);
    if (pin === undefined || (by !== null && pin.except.includes(by))) return [name, range];
    const isIn = rangeContains(requireRange(range), requireVersion(pin.version));
    return [name, isIn ? pin.version : '99.0.0'];
  };
  const all = (by: string | null, ranges: Readonly<Record<string, string>>) =>
    Object.fromEntries(Object.entries(ranges).map(([name, range]) => asked(by, name, range)));
  return {
    projects: Object.fromEntries(
      Object.entries(projects).map(([name, ranges]) => [name, all(name, ranges)]),
    ),
    registry: Object.fromEntries(
      Object.entries(registry).map(([name, releases]) => [
        name,
        Object.fromEntries(
          Object.entries(releases).map(([version, release]) => [
            version,
            { ...release, needs: all(null, release.needs ?? {}) },
          ]),
        ),
      ]),
    ),
  };
}

function outcomeOf(
  { registry }: World,
  own: WorkspaceFiles,
  before: Resolution | null = null,
): ResolveOutcome {
  return resolve({
    workspace: workspaceOf(own),
    records: recordsOf(registry),
    asOf: DAY,
    before,
  });
}

function resolved(
  world: World,
  own: WorkspaceFiles,
  before: Resolution | null = null,
): Resolution | null {
  const outcome = outcomeOf(world, own, before);
  return outcome.kind === 'answered' ? outcome.resolution : null;
}

/** What answers what, whatever was asked. */
function answersOf(resolution: Resolution | null): unknown {
  if (resolution === null) return null;
  const of = (all: Resolution['projects'][number]['requirements']) =>
    all.map(({ name, answer }) => [name, answer]);
  return [
    resolution.projects.map((one) => [one.folder, of(one.requirements)]),
    resolution.copies.map((one) => [one.name, one.version, of(one.requirements)]),
  ];
}

test('a pin answers as if everybody whom it holds asked for its version, and nobody else', () => {
  fc.assert(
    fc.property(anyPinned, fc.constantFrom(ROOT, ONE_COPY), ([world, pins], root) => {
      const other = asIfAsked(world, pins);
      expect(answersOf(resolved(world, pinnedFiles(world, pins, root)))).toEqual(
        answersOf(resolved(other, pinnedFiles(other, [], root))),
      );
    }),
  );
});

test('a lockfile under such pins is consistent and proven, and locking again gives the same bytes', () => {
  fc.assert(
    fc.property(anyPinned, fc.constantFrom(ROOT, ONE_COPY), ([world, pins], root) => {
      const own = pinnedFiles(world, pins, root);
      const first = resolved(world, own);
      fc.pre(first !== null);
      const records = recordsOf(world.registry);
      const text = printLock(first);
      const locked = new Map(own).set(LOCK_FILE, text);
      const workspace = workspaceOf(own);
      expect(checkLock(workspace, locked, undefined, DAY).reasons).toEqual([]);
      expect(checkLockAgainst(workspace, locked, { records, asOf: DAY })!.state).toBe('consistent');
      expect(printLock(resolved(world, own, first)!)).toBe(text);
      const certificates = certify(workspace, records, DAY, first);
      expect(checkCertificates(workspace, records, DAY, first, certificates)).toEqual([]);
    }),
  );
});

test('check finds exactly the answers that do not heed a pin that was set since', () => {
  fc.assert(
    fc.property(anyPinned, ([world, pins]) => {
      const first = resolved(world, pinnedFiles(world, []));
      fc.pre(first !== null);
      const locked = new Map(pinnedFiles(world, pins)).set(LOCK_FILE, printLock(first));
      const unheeded = (by: string | null, name: string, version: string | null): boolean => {
        const pin = pins.find((one) => one.name === name);
        if (pin === undefined || version === null || version === pin.version) return false;
        return by === null || !pin.except.includes(by);
      };
      const versionOf = (
        answer: Resolution['projects'][number]['requirements'][number]['answer'],
      ) => (answer.kind === 'copy' ? answer.version : null);
      const isUnheeded =
        first.projects.some(({ folder, requirements }) =>
          requirements.some(({ name, answer }) => unheeded(folder, name, versionOf(answer))),
        ) ||
        first.copies.some(({ requirements }) =>
          requirements.some(({ name, answer }) => unheeded(null, name, versionOf(answer))),
        );
      const { reasons } = checkLock(workspaceOf(locked), locked, undefined, DAY);
      expect(reasons.some(({ code }) => code === 'PIN_UNHEEDED')).toBe(isUnheeded);
    }),
  );
});

test('an engine that goes from pins to other pins answers as a fresh one', () => {
  fc.assert(
    fc.property(anyPinned, fc.infiniteStream(fc.nat(6)), ([world, pins], picks) => {
      const records = recordsOf(world.registry);
      const engine = new Engine(records);
      for (let round = 0; round < 4; round++) {
        const some = pins.filter(() => picks.next().value! % 2 === 0);
        const question = {
          workspace: workspaceOf(pinnedFiles(world, some)),
          asOf: DAY,
          before: null,
        };
        expect(engine.resolve(question)).toEqual(new Engine(records).resolve(question));
      }
    }),
  );
});

test('where a pin stands in the way of a project that it holds, the explanation says so', () => {
  const world: World = {
    registry: { log: { '1.0.0': {}, '2.0.0': {} } },
    projects: { kiosk: { log: '^2.0.0' }, yard: { log: '^2.0.0' } },
  };
  const own = pinnedFiles(world, [{ name: 'log', version: '1.0.0', except: ['yard'] }]);
  const outcome = outcomeOf(world, own);
  if (outcome.kind !== 'unanswered') throw new Error('nothing answers what kiosk requires');
  expect(outcome.unanswered.map(({ sentences }) => sentences)).toEqual([
    [
      'kiosk/ledger.project.toml:3 requires log ^2.0.0.',
      'log 2.0.0 is ruled out by the pin of log to 1.0.0.',
      'log 1.0.0, to which it is pinned, is not in ^2.0.0.',
    ],
  ]);
  const both = pinnedFiles(world, [{ name: 'log', version: '1.0.0', except: ['kiosk', 'yard'] }]);
  expect(resolved(world, both)!.copies.map(({ version }) => version)).toEqual(['2.0.0']);
});
