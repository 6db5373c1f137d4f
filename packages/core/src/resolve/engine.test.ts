import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { PackageRecords } from '../registry/index.js';
import { readWorkspace, type Workspace, type WorkspaceReading } from '../workspace/index.js';
import { Engine } from './engine.js';
import type { Resolution } from './model/resolution.js';
import { resolve } from './resolve.js';
import {
  anyPeerWorld,
  anyPolicy,
  anyAnswerableWorld,
  anyWorld,
  filesOf,
  recordsOf,
  rootWith,
  workspaceOf,
  type PolicySketch,
  type World,
} from './world.arbitrary.js';

const asOf = '2025-01-01';

type Projects = World['projects'];

/** The same packages with one row of projects after another. */
function check(
  records: PackageRecords,
  steps: readonly (readonly [Projects, PolicySketch])[],
  before: Resolution | null,
): void {
  const engine = new Engine(records);
  let reading: WorkspaceReading | undefined;
  for (const [projects, policy] of steps) {
    const files = filesOf(projects, { 'ledger.toml': rootWith(policy) });
    reading = readWorkspace(files, reading);
    const workspace = reading.workspace!;
    const question = { workspace, asOf, before };
    expect(engine.resolve(question)).toEqual(resolve({ records, ...question }));
  }
}

const policies = fc.oneof(
  { weight: 3, arbitrary: fc.constant({ copies: 'any', peers: 'report', ofPackage: {} } as const) },
  { weight: 1, arbitrary: anyPolicy },
);

describe('an engine that is asked again answers as a fresh one does:', () => {
  test.each([
    ['in worlds with cycles', fc.oneof(anyWorld, anyAnswerableWorld)],
    ['in worlds with peers', anyPeerWorld],
  ])('%s', (_, worlds) => {
    fc.assert(
      fc.property(
        worlds,
        fc.array(fc.tuple(worlds, policies), { minLength: 1, maxLength: 4 }),
        fc.boolean(),
        (first, others, hasBefore) => {
          const records = recordsOf(first.registry);
          const start = resolve({
            records,
            workspace: readWorkspace(filesOf(first.projects)).workspace!,
            asOf,
            before: null,
          });
          const before = hasBefore && start.kind === 'answered' ? start.resolution : null;
          const plain = { copies: 'any', peers: 'report', ofPackage: {} } as const;
          const steps = others.map(([{ projects }, policy]) => [projects, policy] as const);
          // The first again at the end: what was taken back must leave nothing behind.
          check(records, [[first.projects, plain], ...steps, [first.projects, plain]], before);
        },
      ),
    );
  });
});

test('an engine goes from picks to other picks and back as a fresh one would', () => {
  const versions = ['1.0.0', '1.1.0', '1.2.0', '2.0.0', '2.1.0', '3.0.0'];
  const anyPick = fc.record({
    name: fc.constantFrom('ash', 'birch', 'cedar', 'dogwood', 'elm'),
    from: fc.constantFrom(...versions),
    to: fc.constantFrom(...versions),
  });
  fc.assert(
    fc.property(
      fc.oneof(anyAnswerableWorld, anyPeerWorld),
      fc.array(fc.tuple(fc.array(anyPick, { maxLength: 3 }), fc.option(anyAnswerableWorld)), {
        minLength: 1,
        maxLength: 5,
      }),
      (world, steps) => {
        const records = recordsOf(world.registry);
        const workspaceWith = (projects: World['projects']): Workspace =>
          readWorkspace(filesOf(projects)).workspace!;
        const workspace = workspaceWith(world.projects);
        const start = resolve({ records, workspace, asOf, before: null });
        fc.pre(start.kind === 'answered');
        const before = start.kind === 'answered' ? start.resolution : null;
        const engine = new Engine(records);
        for (const [rePicks, other] of steps) {
          const asked = other === null ? workspace : workspaceWith(other.projects);
          const question = { workspace: asked, asOf, before, rePicks };
          expect(engine.resolve(question)).toEqual(resolve({ records, ...question }));
        }
      },
    ),
  );
});

test('an engine takes back what a pick led to that is no copy in the end', () => {
  const records = recordsOf({
    ash: { '1.0.0': { withdrawn: true } },
    birch: { '1.0.0': {}, '1.2.0': { needs: { dogwood: '*' } } },
    cedar: {
      '1.1.0': { needs: { birch: '*' } },
      '2.1.0': {},
      '3.0.0': { needs: { ash: '*' } },
    },
    dogwood: { '1.0.0': { needs: { cedar: '1.0.0 || 2.1.0' } } },
  });
  const workspace = workspaceOf(filesOf({ north: { cedar: '>=1.1.0' } }));
  const old = resolve({
    workspace,
    records: recordsOf({ birch: { '1.0.0': {} }, cedar: { '1.1.0': { needs: { birch: '*' } } } }),
    asOf,
    before: null,
  });
  const { resolution: before } = old as Extract<typeof old, { kind: 'answered' }>;
  const cedar = { name: 'cedar', from: '1.1.0', to: '3.0.0' };
  const question = { workspace, asOf, before, rePicks: [cedar] };
  const engine = new Engine(records);
  engine.resolve({
    ...question,
    rePicks: [{ name: 'birch', from: '1.0.0', to: '1.2.0' }, cedar],
  });
  expect(engine.resolve(question)).toEqual(new Engine(records).resolve(question));
});

test('an engine that is asked many times about the same projects supplies as a fresh one does', () => {
  const FOLDERS = ['north', 'south'];
  const anyPick = fc.record({
    name: fc.constantFrom('ash', 'birch', 'cedar', 'dogwood'),
    from: fc.constantFrom('1.0.0', '1.1.0', '2.0.0'),
    to: fc.constantFrom('1.0.0', '1.1.0', '2.0.0'),
  });
  fc.assert(
    fc.property(
      anyPeerWorld,
      fc.array(
        fc.tuple(fc.option(anyPeerWorld, { freq: 2 }), fc.array(anyPick, { maxLength: 3 })),
        { minLength: 3, maxLength: 8 },
      ),
      ({ registry, projects: first }, steps) => {
        const records = recordsOf(registry);
        const engine = new Engine(records);
        let reading: WorkspaceReading | undefined;
        const asWorkspace = (projects: Projects): Workspace => {
          const all = FOLDERS.map((folder) => [folder, projects[folder] ?? {}] as const);
          reading = readWorkspace(filesOf(Object.fromEntries(all)), reading);
          return reading.workspace!;
        };
        const start = resolve({ records, workspace: asWorkspace(first), asOf, before: null });
        const before = start.kind === 'answered' ? start.resolution : null;
        for (const [other, rePicks] of steps) {
          const workspace = asWorkspace(other?.projects ?? first);
          const question = { workspace, asOf, before, rePicks };
          expect(engine.resolve(question)).toEqual(resolve({ records, ...question }));
        }
      },
    ),
  );
});

test('a peer that is newly asked for, and that nothing supplies, is told', () => {
  const records = recordsOf({
    log: { '1.0.0': {}, '2.0.0': { peers: { core: { range: '*', optional: false } } } },
    web: { '1.0.0': { needs: { log: '*' } } },
    core: { '2.0.0-rc.1': {} },
  });
  const plain = { copies: 'any', peers: 'report', ofPackage: {} } as const;
  const steps = [
    { a: {}, b: { web: '*' } },
    { a: { log: '^1.0.0' }, b: { web: '*' } },
    { a: {}, b: { web: '*' } },
  ];
  check(
    records,
    steps.map((projects) => [projects, plain] as const),
    null,
  );
});

test('work can be watched, and stopped by what the watch throws; the engine is none the worse', () => {
  const records = recordsOf({ log: { '1.0.0': {} } });
  const workspace: Workspace = readWorkspace(filesOf({ a: { log: '*' } })).workspace!;
  const engine = new Engine(records);
  const question = { workspace, asOf, before: null };
  const left: number[] = [];
  expect(() =>
    engine.resolve(question, (waiting) => {
      left.push(waiting);
      throw new Error('enough');
    }),
  ).toThrow('enough');
  expect(left).toEqual([1]);
  expect(engine.resolve(question)).toMatchObject({ kind: 'answered' });
});
