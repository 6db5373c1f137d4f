import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { PackageRecords, Release } from '../../registry/index.js';
import { globMatcher } from '../../text/index.js';
import { rangeContains, requireRange } from '../../version/index.js';
import { matchingTargets, type Workspace } from '../../workspace/index.js';
import { Engine } from '../engine.js';
import { copyKey, type AnsweredRequirement, type Resolution } from '../model/resolution.js';
import { anyAnswerableRichWorld, richFiles, richRecords } from '../rich-world.arbitrary.js';
import { filesOf, recordsOf, ROOT, workspaceOf, type PolicySketch } from '../world.arbitrary.js';

const asOf = '2025-01-01';

interface Ask {
  readonly name: string;
  readonly range: string;
  readonly isOptional: boolean;
  readonly targets: readonly string[];
}

/*
 * A reference that shares nothing with the search but ranges and patterns: it tries every part of the optional
 * requirements of what is there anyway, and every way to answer what they bring in.
 */
class EveryPart {
  private readonly usable = new Set<Release>();

  constructor(
    private readonly workspace: Workspace,
    private readonly records: PackageRecords,
    private readonly policy: PolicySketch,
  ) {
    for (const record of records.values())
      for (const release of record?.releases ?? [])
        if (
          release.fault === null &&
          !release.isWithdrawn &&
          release.platform.length === 0 &&
          release.published.slice(0, 10) <= asOf
        )
          this.usable.add(release);
    for (let size = -1; size !== this.usable.size;) {
      size = this.usable.size;
      for (const release of this.usable)
        if (this.asksOf(release).some((ask) => !ask.isOptional && this.releases(ask).length === 0))
          this.usable.delete(release);
    }
  }

  asksOf({ needs, targets }: Release): readonly Ask[] {
    return needs.flatMap(({ name, range, kind, when }) => {
      const all = matchingTargets(this.workspace.targets, when, targets);
      return all.length === 0
        ? []
        : [{ name, range, isOptional: kind === 'optional', targets: all }];
    });
  }

  releases({ name, range, isOptional, targets }: Ask): readonly Release[] {
    return (this.records.get(name)?.releases ?? []).filter((release) => {
      const isMatch = globMatcher([...release.targets]);
      const isFor =
        release.targets.includes('*') ||
        (isOptional ? targets.some(isMatch) : targets.every(isMatch));
      return (
        this.usable.has(release) && isFor && rangeContains(requireRange(range), release.version)
      );
    });
  }

  canMeet(open: readonly Ask[], copies: ReadonlyMap<string, Release>): boolean {
    const [ask, ...rest] = open;
    if (ask === undefined) return true;
    return this.releases(ask).some((release) => {
      const key = `${ask.name} ${release.text}`;
      if (copies.has(key)) return this.canMeet(rest, copies);
      const own = this.policy.ofPackage[ask.name] ?? this.policy.copies;
      const isCrowded = [...copies].some(
        ([other, { version }]) =>
          other.startsWith(`${ask.name} `) &&
          (own === 'one' || (own === 'one-per-major' && version.major === release.version.major)),
      );
      if (isCrowded) return false;
      const more = this.asksOf(release).filter(({ isOptional }) => !isOptional);
      return this.canMeet([...rest, ...more], new Map([...copies, [key, release]]));
    });
  }
}

/** The copies that projects bring in by what is not optional, and the optional requirements of those and of projects. */
function plainPart({ projects, copies }: Resolution) {
  const byKey = new Map(copies.map((copy) => [copyKey(copy), copy]));
  const there = new Set<string>();
  const optional: {
    readonly requirement: AnsweredRequirement;
    readonly ofOwner: readonly string[];
  }[] = [];
  const open = projects.map(({ requirements }) => ({
    requirements,
    ofOwner: ['*'] as readonly string[],
  }));
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    for (const requirement of next.requirements) {
      const { kind, name, answer } = requirement;
      if (kind === 'optional') optional.push({ requirement, ofOwner: next.ofOwner });
      else if (answer.kind === 'copy') {
        const key = `${name} ${answer.version}`;
        if (there.has(key)) continue;
        there.add(key);
        const copy = byKey.get(key)!;
        open.push({ requirements: copy.requirements, ofOwner: copy.targets });
      }
    }
  }
  return { there, optional };
}

test('of the optional requirements of what is there anyway, no larger part can be met beside it', () => {
  fc.assert(
    fc.property(anyAnswerableRichWorld, (world) => {
      const policy: PolicySketch = { ...world.policy, peers: 'report' };
      const workspace = workspaceOf(richFiles({ ...world, policy }));
      const records = richRecords(world);
      const outcome = new Engine(records).resolve({ workspace, asOf, before: null });
      fc.pre(outcome.kind === 'answered');
      if (outcome.kind !== 'answered') return;
      const every = new EveryPart(workspace, records, policy);
      const { there, optional } = plainPart(outcome.resolution);
      fc.pre(optional.length <= 8);
      const copies = new Map<string, Release>();
      for (const key of there) {
        const [name, version] = key.split(' ');
        copies.set(
          key,
          records.get(name!)!.releases.find(({ text }) => text === version)!,
        );
      }
      const kept = optional.filter(({ requirement }) => requirement.answer.kind === 'copy').length;
      const asks = optional.map(({ requirement: { name, range, when }, ofOwner }): Ask => ({
        name,
        range: range!,
        isOptional: true,
        targets: matchingTargets(workspace.targets, when, ofOwner),
      }));
      for (let bits = 0; bits < 2 ** asks.length; bits++) {
        const part = asks.filter((_, i) => (bits >> i) & 1);
        if (part.length <= kept || part.some(({ targets }) => targets.length === 0)) continue;
        expect(every.canMeet(part, copies), JSON.stringify(part)).toBe(false);
      }
    }),
  );
});

test('of three that cannot all be met the two that can are, whichever comes first', () => {
  const optional = (range: string) => ({ '1.0.0': { optional: { log: range } } });
  const records = recordsOf({
    ash: optional('^1.0.0'),
    birch: optional('^2.0.0'),
    cedar: optional('^2.0.0'),
    log: { '1.0.0': {}, '2.0.0': {} },
  });
  const root = `${ROOT}[policy.package.log]\ncopies = "one"\n`;
  const workspace = workspaceOf(
    filesOf({ a: { ash: '*', birch: '*', cedar: '*' } }, { 'ledger.toml': root }),
  );
  const outcome = new Engine(records).resolve({ workspace, asOf, before: null });
  if (outcome.kind !== 'answered') throw new Error(outcome.kind);
  expect(outcome.resolution.copies.map(copyKey)).toEqual([
    'ash 1.0.0',
    'birch 1.0.0',
    'cedar 1.0.0',
    'log 2.0.0',
  ]);
});
