import { REQUIREMENT_KINDS } from '../manifest/index.js';
import type { PackageRecords, Release } from '../registry/index.js';
import type { Requirement, Workspace } from '../workspace/index.js';
import { AvailableReleases } from './available-releases.js';
import { chooseCopies, type Choice } from './choose-copies.js';
import type { Demand } from './demand.js';
import { explainUnanswered, type Unanswered } from './explain-unanswered.js';
import { demandOwner, HeldAnswers } from './held-answers.js';
import { packageOrder } from './package-order.js';
import { RangeCache } from './range-cache.js';
import {
  copyKey,
  FOR_NO_TARGET,
  type AnsweredRequirement,
  type Answer,
  type Copy,
  type Resolution,
} from './resolution.js';

export interface ResolveInput {
  readonly workspace: Workspace;
  /** Records of all packages that can be reached; what is not there is asked for. */
  readonly records: PackageRecords;
  /** The last day whose releases count, YYYY-MM-DD; ages are counted from it. */
  readonly asOf: string;
  readonly before: Resolution | null;
  /** Packages whose answers before do not bind. */
  readonly refresh?: 'all' | ReadonlySet<string>;
}

export type ResolveOutcome =
  | { readonly kind: 'answered'; readonly resolution: Resolution }
  /** Load these records and ask again. */
  | { readonly kind: 'ask'; readonly names: readonly string[] }
  | { readonly kind: 'unanswered'; readonly unanswered: readonly Unanswered[] };

/**
 * Answers all requirements of a workspace under the policy `any` with the fewest copies. A pure
 * function of its input: no order in it changes the result.
 *
 * Packages are answered group by group, each after all that may need it, so the demands on a package
 * are complete when it is its turn. Only packages that need each other in a circle are repeated; see `answerCircle`.
 */
export function resolve(input: ResolveInput): ResolveOutcome {
  const missing = missingNames(input);
  if (missing.length > 0) return { kind: 'ask', names: missing };
  const resolver = new Resolver(input);
  const unanswered = resolver.run();
  if (unanswered.length > 0) return { kind: 'unanswered', unanswered };
  return { kind: 'answered', resolution: resolver.resolution() };
}

function missingNames({ workspace, records }: ResolveInput): readonly string[] {
  const missing = new Set<string>();
  for (const name of requiredPackages(workspace)) if (!records.has(name)) missing.add(name);
  for (const record of records.values()) {
    for (const { needs } of record?.releases ?? []) {
      for (const need of needs) if (!records.has(need.name)) missing.add(need.name);
    }
  }
  return [...missing].sort();
}

/** Packages that projects require, sorted. */
export function requiredPackages(workspace: Workspace): readonly string[] {
  const names = new Set<string>();
  for (const { requirements } of workspace.projects) {
    for (const { name, meaning } of requirements) if (meaning.kind === 'range') names.add(name);
  }
  return [...names].sort();
}

type Demands = Map<string, Demand>;

class Resolver {
  private readonly ranges: RangeCache;
  private readonly available: AvailableReleases;
  private readonly held: HeldAnswers;
  private readonly demands = new Map<string, Demands>();
  private readonly choices = new Map<string, Choice>();

  constructor(private readonly input: ResolveInput) {
    this.ranges = new RangeCache(input.workspace.policy);
    this.available = new AvailableReleases(input.workspace, input.records, this.ranges, input.asOf);
    this.held = new HeldAnswers(input.before, this.ranges, input.refresh ?? new Set());
  }

  run(): readonly Unanswered[] {
    for (const { requirements } of this.input.workspace.projects) {
      for (const requirement of requirements) this.demandOfProject(requirement);
    }
    for (const group of packageOrder(this.input.records)) {
      if (group.length === 1 && !this.needsItself(group[0]!)) this.answerPackage(group[0]!);
      else this.answerCircle(group);
    }
    return this.unansweredRequirements();
  }

  private demandOfProject(requirement: Requirement): void {
    const { name, kind, meaning, targets, project } = requirement;
    if (meaning.kind !== 'range') return;
    const owner = demandOwner(project, kind);
    this.addDemand(name, {
      owner,
      range: meaning.range,
      targets,
      isOptional: kind === 'optional',
      held: this.held.version(owner, name, meaning.range),
    });
  }

  private addDemand(name: string, demand: Demand): void {
    const demands = this.demands.get(name) ?? new Map<string, Demand>();
    this.demands.set(name, demands.set(demand.owner, demand));
  }

  private needsItself(name: string): boolean {
    const releases = this.available.record(name)?.releases ?? [];
    return releases.some(({ needs }) => needs.some((need) => need.name === name));
  }

  private answerPackage(name: string): void {
    for (const release of this.choose(name)) {
      for (const demand of this.demandsOfRelease(name, release)) this.addDemand(...demand);
    }
  }

  /** Chooses for the demands as they stand; the chosen releases, without repeats. */
  private choose(name: string): ReadonlySet<Release> {
    const demands = [...(this.demands.get(name)?.values() ?? [])].sort((a, b) =>
      a.owner < b.owner ? -1 : 1,
    );
    const choice = chooseCopies(name, demands, this.available, this.held.versionsOf(name));
    this.choices.set(name, choice);
    return new Set([...choice.values()].filter((release) => release !== null));
  }

  private demandsOfRelease(name: string, release: Release): readonly [string, Demand][] {
    const owner = copyKey({ name, version: release.text });
    return release.needs.flatMap((need): [string, Demand][] => {
      const targets = this.available.targetsOf(need.when);
      if (targets.length === 0) return [];
      const range = this.ranges.of(need.name, need.range);
      const key = demandOwner(owner, need.kind);
      const held = this.held.version(key, need.name, range);
      return [
        [need.name, { owner: key, range, targets, isOptional: need.kind === 'optional', held }],
      ];
    });
  }

  /**
   * Packages that need each other: chosen in turn from the demands of the releases chosen so far,
   * until nothing changes. If a state comes back, demands once made are no longer withdrawn; they then
   * only grow, and there are finitely many, so this ends. A copy that is left over without a demand
   * of a chosen release does not get into the resolution.
   */
  private answerCircle(group: readonly string[]): void {
    const members = new Set(group);
    const outer = new Map(group.map((name) => [name, new Map(this.demands.get(name))]));
    const inner = new Map<string, Map<string, readonly [string, Demand][]>>(
      group.map((name) => [name, new Map()]),
    );
    const seen = new Set<string>();
    let isGrowing = false;
    for (let last = ''; ;) {
      for (const name of group) {
        const chosen = this.choose(name);
        const before = inner.get(name)!;
        const after = new Map(isGrowing ? before : []);
        for (const release of chosen) after.set(release.text, this.demandsOfRelease(name, release));
        inner.set(name, after);
        this.rebuildDemands(outer, inner, members);
      }
      const state = group.map((name) => [...inner.get(name)!.keys()].sort().join(' ')).join('\n');
      if (state === last) break;
      if (seen.has(state)) isGrowing = true;
      seen.add(state);
      last = state;
    }
    for (const name of group) {
      for (const demands of inner.get(name)!.values()) {
        for (const [target, demand] of demands)
          if (!members.has(target)) this.addDemand(target, demand);
      }
    }
  }

  private rebuildDemands(
    outer: ReadonlyMap<string, Demands>,
    inner: ReadonlyMap<string, ReadonlyMap<string, readonly [string, Demand][]>>,
    members: ReadonlySet<string>,
  ): void {
    for (const [name, demands] of outer) this.demands.set(name, new Map(demands));
    for (const byRelease of inner.values()) {
      for (const demands of byRelease.values()) {
        for (const [target, demand] of demands)
          if (members.has(target)) this.addDemand(target, demand);
      }
    }
  }

  /** Demands of releases are always answered: a release with one that cannot be is not available. */
  private unansweredRequirements(): readonly Unanswered[] {
    const { projects } = this.input.workspace;
    return projects
      .flatMap(({ requirements }) => [...requirements].sort(byKindAndName))
      .filter(
        ({ name, kind, project, meaning }) =>
          meaning.kind === 'range' &&
          kind !== 'optional' &&
          this.choices.get(name)?.get(demandOwner(project, kind)) == null,
      )
      .map((requirement) => explainUnanswered(requirement, this.available, this.ranges));
  }

  resolution(): Resolution {
    const { workspace } = this.input;
    const queue: [name: string, release: Release][] = [];
    const answer = (owner: string, kind: string, name: string): Answer => {
      const release = this.choices.get(name)?.get(demandOwner(owner, kind)) ?? null;
      if (release === null) return { kind: 'skipped', reason: this.skipReason(name) };
      queue.push([name, release]);
      return { kind: 'copy', version: release.text };
    };
    const projects = workspace.projects.map(({ folder, name, version, requirements }) => ({
      folder,
      name,
      version,
      requirements: requirements
        .map(({ kind, name: needed, written, meaning, when }): AnsweredRequirement => {
          const isProject = meaning.kind === 'project';
          return {
            kind,
            name: needed,
            written,
            range: isProject ? null : meaning.text,
            when,
            answer: isProject ? meaning : answer(folder, kind, needed),
          };
        })
        .sort(byKindAndName),
    }));
    const copies = new Map<string, Copy>();
    for (let next = queue.pop(); next !== undefined; next = queue.pop()) {
      const [name, release] = next;
      const key = copyKey({ name, version: release.text });
      if (copies.has(key)) continue;
      copies.set(
        key,
        this.copyOf(name, release, (kind, needed) => answer(key, kind, needed)),
      );
    }
    return { projects, copies: [...copies.values()].sort(this.byNameAndVersion()) };
  }

  private copyOf(
    name: string,
    release: Release,
    answer: (kind: string, name: string) => Answer,
  ): Copy {
    return {
      name,
      version: release.text,
      registry: this.input.workspace.registry,
      archive: release.archive.path,
      integrity: release.archive.integrity,
      targets: [...release.targets].sort(),
      deprecated: release.deprecated,
      requirements: release.needs
        .map(({ kind, name: needed, range, when }): AnsweredRequirement => {
          const isForUs = this.available.targetsOf(when).length > 0;
          return {
            kind,
            name: needed,
            written: range,
            range,
            when,
            answer: isForUs ? answer(kind, needed) : { kind: 'skipped', reason: FOR_NO_TARGET },
          };
        })
        .sort(byKindAndName),
    };
  }

  private skipReason(name: string): string {
    return this.available.record(name) === null
      ? 'not in the registry'
      : 'no usable release in range';
  }

  private byNameAndVersion(): (a: Copy, b: Copy) => number {
    const position = new Map<string, number>();
    for (const record of this.input.records.values()) {
      record?.releases.forEach(({ text }, i) =>
        position.set(copyKey({ name: record.name, version: text }), i),
      );
    }
    return (a, b) =>
      a.name === b.name
        ? position.get(copyKey(a))! - position.get(copyKey(b))!
        : a.name < b.name
          ? -1
          : 1;
  }
}

export function byKindAndName(
  a: { readonly kind: (typeof REQUIREMENT_KINDS)[number]; readonly name: string },
  b: { readonly kind: (typeof REQUIREMENT_KINDS)[number]; readonly name: string },
): number {
  if (a.kind !== b.kind)
    return REQUIREMENT_KINDS.indexOf(a.kind) - REQUIREMENT_KINDS.indexOf(b.kind);
  return a.name < b.name ? -1 : a.name > b.name ? 1 : 0;
}
