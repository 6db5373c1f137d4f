import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  copyKey,
  resolve,
  type Answer,
  type AnsweredRequirement,
  type Copy,
  type ProjectAnswers,
  type Resolution,
} from '../resolve/index.js';
import {
  anyAnswerableRichWorld,
  anyRichWorld,
  richFiles,
  richRecords,
  type RichWorld,
} from '../resolve/rich-world.arbitrary.js';
import { workspaceOf } from '../resolve/world.arbitrary.js';
import { LOCK_FILE } from '../workspace/index.js';
import { checkLockAgainst } from './check-lock-against.js';
import { checkLock } from './check-lock.js';
import { printLock } from './print-lock.js';
import { readLock } from './read-lock.js';

const asOf = '2025-01-01';

function lock(world: RichWorld, before: Resolution | null): Resolution | null {
  const workspace = workspaceOf(richFiles(world));
  const outcome = resolve({ workspace, records: richRecords(world), asOf, before });
  return outcome.kind === 'answered' ? outcome.resolution : null;
}

test('locking again gives the same bytes, where policies, optional requirements, unusable releases and strict peers are frequent', () => {
  fc.assert(
    fc.property(anyAnswerableRichWorld, (world) => {
      const first = lock(world, null);
      fc.pre(first !== null);
      expect(printLock(lock(world, first)!)).toBe(printLock(first));
    }),
  );
});

test('locking again gives the same bytes, also where the lockfile was made from other manifests and another policy', () => {
  const anyNow = fc.oneof(anyRichWorld, anyAnswerableRichWorld);
  fc.assert(
    fc.property(anyNow, anyAnswerableRichWorld, (now, other) => {
      const before = lock({ ...other, registry: now.registry }, null);
      fc.pre(before !== null);
      const first = lock(now, before);
      fc.pre(first !== null);
      expect(printLock(lock(now, first)!)).toBe(printLock(first));
    }),
  );
});

test('an optional requirement is not kept out by a supply that nothing asks for without it', () => {
  const bare = { needs: {}, optional: {}, peers: {} };
  const need = { isOptional: false, when: [] };
  const earlier: RichWorld = {
    registry: {
      ash: { '1.0.0': { ...bare, peers: { dogwood: { range: '*', optional: false } } } },
      cedar: {
        '1.1.0': bare,
        '2.0.0': { ...bare, needs: { ash: '*' } },
      },
      dogwood: { '1.0.0': { ...bare, needs: { cedar: '^1.0.0' } } },
    },
    projects: { south: [{ ...need, name: 'ash', range: '*' }] },
    policy: { copies: 'any', peers: 'report', ofPackage: {} },
  };
  const now: RichWorld = {
    ...earlier,
    projects: { south: [{ ...need, name: 'cedar', range: '1.0.0 || 2.0.0', isOptional: true }] },
    policy: { copies: 'one', peers: 'report', ofPackage: {} },
  };
  const first = lock(now, lock(earlier, null))!;
  expect(first.copies.map(copyKey)).toEqual(['ash 1.0.0', 'cedar 2.0.0']);
  expect(printLock(lock(now, first)!)).toBe(printLock(first));
});

test('an optional requirement is not kept out by a supply that only a copy on the way asked for', () => {
  const bare = { needs: {}, optional: {}, peers: {} };
  const before: RichWorld = {
    registry: {
      ash: { '1.0.0': bare, '1.1.0': bare },
      birch: {
        '1.1.0': { ...bare, optional: { ash: '1.0.0' } },
        '2.0.0': { ...bare, peers: { ash: { range: '>=1.1.0', optional: false } } },
      },
      cedar: {
        '1.0.0': { ...bare, peers: { birch: { range: '^1.0.0', optional: false } } },
        '2.0.0': {
          ...bare,
          needs: { ash: '>=1.1.0' },
          peers: { cedar: { range: '^3.0.0', optional: true } },
        },
      },
    },
    projects: { north: [{ name: 'ash', range: '*', isOptional: false, when: [] }] },
    policy: { copies: 'any', peers: 'report', ofPackage: {} },
  };
  const now: RichWorld = {
    ...before,
    projects: { north: [{ name: 'cedar', range: '*', isOptional: true, when: [] }] },
    policy: { copies: 'one', peers: 'strict', ofPackage: {} },
  };
  const first = lock(now, lock(before, null))!;
  expect(first.copies.map(copyKey)).toEqual(['ash 1.0.0', 'birch 1.1.0', 'cedar 1.0.0']);
  expect(printLock(lock(now, first)!)).toBe(printLock(first));
});

test('what had an answer keeps it under a policy, also where another copy would do', () => {
  const bare = { needs: {}, optional: {}, peers: {} };
  const world: RichWorld = {
    registry: {
      ash: { '1.0.0': bare },
      birch: {
        '1.0.0': { ...bare, needs: { cedar: '*' } },
        '2.0.0': bare,
      },
      cedar: {
        '1.0.0': bare,
        '2.0.0': {
          ...bare,
          optional: { birch: '>=1.1.0' },
          peers: { ash: { range: '*', optional: false } },
        },
      },
      dogwood: { '1.0.0': { ...bare, peers: { cedar: { range: '^1.0.0', optional: false } } } },
    },
    projects: {
      north: [
        { name: 'dogwood', range: '*', isOptional: false, when: [] },
        { name: 'birch', range: '1.0.0', isOptional: true, when: [] },
      ],
    },
    policy: { copies: 'any', peers: 'report', ofPackage: { birch: 'one' } },
  };
  const first = lock(world, null)!;
  expect(first.copies.map(copyKey)).toContain('cedar 2.0.0');
  expect(printLock(lock(world, first)!)).toBe(printLock(first));
});

/** One way to change a lockfile as a hand would. The numbers pick what is changed. */
type HandEdit = (resolution: Resolution, pick: readonly number[]) => Resolution;

function at<T>(list: readonly T[], n: number): T | undefined {
  return list.length === 0 ? undefined : list[n % list.length];
}

function inProject(
  resolution: Resolution,
  n: number,
  change: (project: ProjectAnswers) => ProjectAnswers,
): Resolution {
  const one = at(resolution.projects, n);
  return {
    ...resolution,
    projects: resolution.projects.map((project) => (project === one ? change(project) : project)),
  };
}

function inCopy(resolution: Resolution, n: number, change: (copy: Copy) => Copy): Resolution {
  const one = at(resolution.copies, n);
  const copies = resolution.copies.map((copy) => (copy === one ? change(copy) : copy));
  return { ...resolution, copies };
}

/** Changes one requirement of a project or of a copy; null takes it away. */
function inRequirement(
  resolution: Resolution,
  [whose, which, requirement]: readonly number[],
  change: (one: AnsweredRequirement) => AnsweredRequirement | null,
): Resolution {
  const each = <B extends ProjectAnswers | Copy>(block: B): B => {
    const one = at(block.requirements, requirement!);
    const requirements = block.requirements.flatMap((other) =>
      other === one ? (change(other) ?? []) : [other],
    );
    return { ...block, requirements };
  };
  return whose! % 2 === 0 ? inProject(resolution, which!, each) : inCopy(resolution, which!, each);
}

const otherwise = (resolution: Resolution, pick: readonly number[], answer: Answer): Resolution =>
  inRequirement(resolution, pick, (one) => ({ ...one, answer }));

/** Edits that manifests and lockfile alone give away. */
const PLAIN: Readonly<Record<string, HandEdit>> = {
  none: (resolution) => resolution,
  'another copy answers': (resolution, pick) =>
    inRequirement(resolution, pick, (one) => {
      const copies = resolution.copies.filter(({ name }) => name === one.name);
      const version = at(copies, pick[3]!)?.version;
      return version === undefined ? one : { ...one, answer: { kind: 'copy', version } };
    }),
  'a version that is not there answers': (resolution, pick) =>
    otherwise(resolution, pick, { kind: 'copy', version: '1.0.7' }),
  'a project answers': (resolution, pick) =>
    otherwise(resolution, pick, { kind: 'project', folder: at(['north', 'nowhere'], pick[3]!)! }),
  'skipped for a made-up reason': (resolution, pick) =>
    otherwise(resolution, pick, { kind: 'skipped', reason: 'we do not like it' }),
  'skipped for no target': (resolution, pick) =>
    otherwise(resolution, pick, { kind: 'skipped', reason: 'for none of our targets' }),
  'a line less in a project': (resolution, pick) =>
    inRequirement(resolution, [0, ...pick.slice(1)], () => null),
  'a copy less': (resolution, pick) => {
    const gone = at(resolution.copies, pick[0]!);
    return { ...resolution, copies: resolution.copies.filter((copy) => copy !== gone) };
  },
  'a supply less': (resolution, pick) =>
    inProject(resolution, pick[0]!, (one) => ({ ...one, supplied: one.supplied.slice(1) })),
  'a supply more': (resolution, pick) =>
    inProject(resolution, pick[0]!, (one) => {
      const copy = at(resolution.copies, pick[1]!);
      if (copy === undefined || one.supplied.length > 0) return one;
      return { ...one, supplied: [{ name: copy.name, ranges: ['*'], version: copy.version }] };
    }),
  'other ranges in a supply': (resolution, pick) =>
    inProject(resolution, pick[0]!, (one) => ({
      ...one,
      supplied: one.supplied.map((supply) => ({ ...supply, ranges: ['>=0.0.1'] })),
    })),
  'another project’s name': (resolution, pick) =>
    inProject(resolution, pick[0]!, (one) => ({ ...one, name: 'east' })),
  'another folder': (resolution, pick) =>
    inProject(resolution, pick[0]!, (one) => ({ ...one, folder: 'zoo' })),
  'another range in a project': (resolution, pick) =>
    inRequirement(resolution, [0, ...pick.slice(1)], (one) => ({
      ...one,
      written: '>=0.0.1',
      range: '>=0.0.1',
    })),
  'another condition in a project': (resolution, pick) =>
    inRequirement(resolution, [0, ...pick.slice(1)], (one) => ({ ...one, when: ['win-*'] })),
};

/** Edits of which only the registry knows. */
const HIDDEN: Readonly<Record<string, HandEdit>> = {
  'an optional requirement skipped, and its copy gone': (resolution, pick) => {
    const skipped = otherwise(resolution, pick, {
      kind: 'skipped',
      reason: at(
        ['no usable release in range', 'kept out by the policy', 'not in the registry'],
        pick[3]!,
      )!,
    });
    const used = new Set(
      [...skipped.projects, ...skipped.copies].flatMap(({ requirements }) =>
        requirements.flatMap(({ name, answer }) =>
          answer.kind === 'copy' ? [`${name} ${answer.version}`] : [],
        ),
      ),
    );
    const isUsed = (copy: Copy): boolean =>
      used.has(copyKey(copy)) ||
      skipped.projects.some(({ supplied }) =>
        supplied.some(({ name, version }) => name === copy.name && version === copy.version),
      );
    return { ...skipped, copies: skipped.copies.filter(isUsed) };
  },
  'another sum': (resolution, pick) =>
    inCopy(resolution, pick[0]!, (copy) => ({ ...copy, integrity: `sha256-${'B'.repeat(43)}=` })),
  'another archive': (resolution, pick) =>
    inCopy(resolution, pick[0]!, (copy) => ({ ...copy, archive: '/elsewhere' })),
  deprecated: (resolution, pick) =>
    inCopy(resolution, pick[0]!, (copy) => ({ ...copy, deprecated: 'so it is' })),
  'other targets': (resolution, pick) =>
    inCopy(resolution, pick[0]!, (copy) => ({ ...copy, targets: ['*', 'linux-*'] })),
  'a peer less': (resolution, pick) =>
    inCopy(resolution, pick[0]!, (copy) => ({ ...copy, peers: copy.peers.slice(1) })),
  'a line less in a copy': (resolution, pick) =>
    inRequirement(resolution, [1, ...pick.slice(1)], () => null),
  'another range in a copy': (resolution, pick) =>
    inRequirement(resolution, [1, ...pick.slice(1)], (one) => ({
      ...one,
      written: '>=0.0.1',
      range: '>=0.0.1',
    })),
  'a version of a supply': (resolution, pick) =>
    inProject(resolution, pick[0]!, (one) => ({
      ...one,
      supplied: one.supplied.map((supply) => ({
        ...supply,
        version: at(
          [
            null,
            ...resolution.copies
              .filter(({ name }) => name === supply.name)
              .map((copy) => copy.version),
          ],
          pick[1]!,
        )!,
      })),
    })),
};

const anyPick = fc.array(fc.nat(20), { minLength: 4, maxLength: 4 });

/** A lockfile changed by hand, and what locking makes of it: null where nothing answers any more. */
function afterHand(
  world: RichWorld,
  edits: readonly HandEdit[],
  picks: readonly (readonly number[])[],
) {
  const resolution = lock(world, null);
  fc.pre(resolution !== null);
  const edited = edits.reduce((all, edit, i) => edit(all, picks[i]!), resolution);
  const text = printLock(edited);
  const reading = readLock(text);
  // Two edits can make one block stand twice: that is told as a broken lockfile.
  fc.pre(reading.kind === 'read');
  const workspace = workspaceOf(richFiles(world));
  const files = new Map(richFiles(world)).set(LOCK_FILE, text);
  const again = lock(world, reading.resolution);
  return { workspace, files, isSame: again !== null && printLock(again) === text };
}

describe('checking a lockfile that a hand has changed', () => {
  const anyEdits = (edits: Readonly<Record<string, HandEdit>>) =>
    fc.array(fc.tuple(fc.constantFrom(...Object.keys(edits)), anyPick), {
      minLength: 1,
      maxLength: 2,
    });

  test('says consistent exactly when locking again gives the same bytes, for what manifests and lockfile give away', () => {
    fc.assert(
      fc.property(anyAnswerableRichWorld, anyEdits(PLAIN), (world, edits) => {
        const { workspace, files, isSame } = afterHand(
          world,
          edits.map(([name]) => PLAIN[name]!),
          edits.map(([, pick]) => pick),
        );
        const { state, reasons } = checkLock(workspace, files);
        expect({ isConsistent: state === 'consistent', reasons }).toMatchObject({
          isConsistent: isSame,
        });
      }),
    );
  });

  test('against the registry says so exactly for everything', () => {
    const all = { ...PLAIN, ...HIDDEN };
    fc.assert(
      fc.property(anyAnswerableRichWorld, anyEdits(all), (world, edits) => {
        const { workspace, files, isSame } = afterHand(
          world,
          edits.map(([name]) => all[name]!),
          edits.map(([, pick]) => pick),
        );
        const registry = { records: richRecords(world), asOf };
        const state = checkLockAgainst(workspace, files, registry)!;
        expect({
          isConsistent: state.state === 'consistent',
          reasons: state.reasons,
        }).toMatchObject({
          isConsistent: isSame,
        });
        const offline = checkLock(workspace, files);
        if (isSame) expect(offline.reasons).toEqual([]);
      }),
    );
  });
});
