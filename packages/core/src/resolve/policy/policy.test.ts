import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { PackageRecords } from '../../registry/index.js';
import { requireVersion } from '../../version/index.js';
import { hasAnswerByTrying } from '../every-answer.arbitrary.js';
import type { Resolution } from '../model/resolution.js';
import { resolve } from '../resolve.js';
import {
  anyPeerWorld,
  anyPolicy,
  anyAnswerableWorld,
  anyWorld,
  filesOf,
  recordsOf,
  rootWith,
  shuffled,
  workspaceOf,
  type PolicySketch,
  type World,
} from '../world.arbitrary.js';

const DAY = '2025-01-01';

function solve(
  world: World,
  policy: PolicySketch,
  before: Resolution | null = null,
  records: PackageRecords = recordsOf(world.registry),
) {
  const files = filesOf(world.projects, { 'ledger.toml': rootWith(policy) });
  return resolve({ workspace: workspaceOf(files), records, asOf: DAY, before });
}

function isHeeded({ copies }: Resolution, policy: PolicySketch): boolean {
  return copies.every(({ name, version }) => {
    const own = policy.ofPackage[name] ?? policy.copies;
    const others = copies.filter((one) => one.name === name && one.version !== version);
    if (own === 'any') return true;
    if (own === 'one') return others.length === 0;
    const { major } = requireVersion(version);
    return others.every((one) => requireVersion(one.version).major !== major);
  });
}

describe('policies on copies, in random worlds:', () => {
  test('there is an answer exactly where trying everything finds one, and it heeds the policy', () => {
    fc.assert(
      fc.property(fc.oneof(anyWorld, anyAnswerableWorld), anyPolicy, (world, policy) => {
        const records = recordsOf(world.registry);
        const outcome = solve(world, policy, null, records);
        const expected = hasAnswerByTrying(world, records, policy);
        expect(outcome.kind).toBe(expected ? 'answered' : 'unanswered');
        if (outcome.kind === 'answered') expect(isHeeded(outcome.resolution, policy)).toBe(true);
      }),
    );
  });

  test('no order changes anything, and resolving again changes nothing', () => {
    fc.assert(
      fc.property(anyAnswerableWorld, anyPolicy, (world, policy) => {
        const outcome = solve(world, policy);
        const other = solve(shuffled(world), policy);
        expect(other.kind).toBe(outcome.kind);
        if (outcome.kind !== 'answered' || other.kind !== 'answered') return;
        expect(other.resolution).toEqual(outcome.resolution);
        const again = solve(world, policy, outcome.resolution);
        expect(again).toEqual(outcome);
      }),
    );
  });
});

describe('strict peers, in random worlds:', () => {
  const strict = fc
    .constantFrom('any' as const, 'one' as const, 'one-per-major' as const)
    .map((copies): PolicySketch => ({ copies, peers: 'strict', ofPackage: {} }));

  test('there is an answer exactly where trying everything finds one, and all its peers are met', () => {
    fc.assert(
      fc.property(anyPeerWorld, strict, (world, policy) => {
        const records = recordsOf(world.registry);
        const outcome = solve(world, policy, null, records);
        const expected = hasAnswerByTrying(world, records, policy);
        expect(outcome.kind).toBe(expected ? 'answered' : 'unanswered');
        if (outcome.kind !== 'answered') return;
        expect(outcome.unmetPeers).toEqual([]);
        expect(isHeeded(outcome.resolution, policy)).toBe(true);
      }),
    );
  });

  test('under report there is an answer wherever there is one without peers; again it stays', () => {
    fc.assert(
      fc.property(anyPeerWorld, (world) => {
        const policy = { copies: 'any', peers: 'report', ofPackage: {} } as const;
        const records = recordsOf(world.registry);
        const outcome = solve(world, policy, null, records);
        const expected = hasAnswerByTrying(world, records, policy);
        expect(outcome.kind).toBe(expected ? 'answered' : 'unanswered');
        if (outcome.kind !== 'answered') return;
        expect(solve(world, policy, outcome.resolution)).toEqual(outcome);
        expect(solve(shuffled(world), policy)).toMatchObject({ resolution: outcome.resolution });
      }),
    );
  });

  // The range that asks for cedar without birch cannot be met, so birch and cedar would only ask for each other.
  test('a supply whose release only what it brings in asks for does not keep itself', () => {
    const cedar = { cedar: { range: '*', optional: false } };
    const world = {
      registry: {
        ash: {
          '1.0.0': { needs: {}, peers: { cedar: { range: '>=1.1.0', optional: false } } },
          '2.0.0': { needs: { cedar: '*' }, peers: {} },
        },
        birch: { '1.0.0': { needs: { ash: '1.0.0' }, peers: cedar } },
        cedar: { '1.0.0': { needs: {}, peers: { birch: { range: '*', optional: false } } } },
      },
      projects: { north: { ash: '*' } },
    };
    const policy = { copies: 'any', peers: 'report', ofPackage: {} } as const;
    const first = solve(world, policy);
    if (first.kind !== 'answered') throw new Error(first.kind);
    expect(first.resolution.copies.map(({ name, version }) => `${name} ${version}`)).toEqual([
      'ash 1.0.0',
      'ash 2.0.0',
      'birch 1.0.0',
      'cedar 1.0.0',
    ]);
    expect(solve(world, policy, first.resolution)).toEqual(first);
  });
});
