import { rangeContains, requireVersion } from '../../version/index.js';
import type { Workspace } from '../../workspace/index.js';
import { byKindAndName } from '../model/resolution.js';
import type { UsableReleases } from '../model/usable-releases.js';
import type { BoundPackages } from '../policy/bound-packages.js';
import type { Clash } from '../policy/search-model.js';
import type { Cut, Fact } from './facts.js';
import type { Telling } from './telling.js';

const DEEPEST = 6;
/** Facts and sentences. */
export const LONGEST = 200;

/** What gives a fact's releases their peers of one name. */
type Above =
  | { readonly kind: 'fact'; readonly fact: Fact }
  | { readonly kind: 'project'; readonly folder: string; readonly version: string | null }
  /** The project has nothing of that name and must be supplied with it. */
  | { readonly kind: 'nothing'; readonly project: string };

/** By package: the releases that answer any of the ranges, and the ranges. */
type CommonNeeds = ReadonlyMap<
  number,
  { readonly releases: readonly number[]; readonly ranges: readonly string[] }
>;

/**
 * Draws conclusions from requirements until one of them has no release left: from copies that may not stand together,
 * from what all releases left of a fact need, and, under strict peers, from what they ask for beside them. Where no
 * conclusion gets further, the releases of one fact are taken case by case.
 */
export class Refutation {
  private facts: Fact[] = [];
  private byKey = new Map<string, Fact>();
  private cases: ReadonlyMap<string, number> = new Map();
  /** The needs that all releases of a list share; a fact gets another list when some are taken out. */
  private readonly needsOf = new WeakMap<readonly number[], CommonNeeds>();

  /** @param part the workspace with the requirements that clash alone */
  constructor(
    private readonly roots: Clash,
    private readonly part: Workspace,
    private readonly usable: UsableReleases,
    private readonly bound: BoundPackages,
    private readonly telling: Telling,
  ) {}

  /**
   * Ends early once more is told than anybody reads.
   *
   * @param cases releases taken as chosen, by the fact that they are of
   * @returns whether it was told that nothing is left
   */
  refute(cases: ReadonlyMap<string, number> = new Map()): boolean {
    if (this.telling.lines.length > LONGEST) return false;
    this.facts = [];
    this.byKey = new Map();
    this.cases = cases;
    this.roots.forEach((root, i) =>
      this.add(`root ${i}`, root.pool.package, { kind: 'root', root }, root.pool.releases),
    );
    const empty = this.draw();
    if (empty !== null) {
      this.telling.conclude(empty);
      return true;
    }
    if (cases.size >= DEEPEST) return false;
    const [split] = this.facts
      .filter(({ key, releases }) => releases.length > 1 && !cases.has(key))
      .sort((a, b) => a.releases.length - b.releases.length || a.package - b.package);
    if (split === undefined) return false;
    const number = this.telling.say(split);
    const { key, releases } = split;
    return releases.every((release) => {
      this.telling.open(release, number);
      const isTold = this.refute(new Map([...cases, [key, release]]));
      this.telling.close();
      return isTold;
    });
  }

  private get isStrict(): boolean {
    return this.part.policy.peers === 'strict';
  }

  private add(
    key: string,
    packageNumber: number,
    source: Fact['source'],
    all: readonly number[],
  ): void {
    const supposed = this.cases.get(key) ?? null;
    const releases = supposed === null ? all : all.filter((one) => one === supposed);
    const fact: Fact = { key, package: packageNumber, source, supposed, releases, cuts: [] };
    this.facts.push(fact);
    this.byKey.set(key, fact);
  }

  /** @returns a fact without releases, or null when nothing more follows */
  private draw(): Fact | null {
    for (let isNew = true; isNew;) {
      isNew = false;
      for (const fact of this.facts) {
        if (this.cutBySlots(fact) || this.cutByNeeds(fact) || this.cutByParent(fact)) isNew = true;
        if (this.isStrict && (this.cutByPeers(fact) || this.cutWhatGives(fact))) isNew = true;
        const empty = this.facts.find(({ releases }) => releases.length === 0);
        if (empty !== undefined) return empty;
      }
      if (this.facts.length < LONGEST && this.derive()) isNew = true;
    }
    return null;
  }

  private cut(fact: Fact, cut: Cut): void {
    fact.releases = fact.releases.filter((release) => !cut.removed.includes(release));
    fact.cuts.push(cut);
  }

  /** Takes releases out of a fact for the reasons that are found, those of one reason together. */
  private cutAll(fact: Fact, find: (release: number) => Omit<Cut, 'removed'> | null): boolean {
    const cuts = new Map<string, { removed: number[]; by: Set<Fact>; reason: Cut['reason'] }>();
    for (const release of fact.releases) {
      const found = find(release);
      if (found === null) continue;
      const key = JSON.stringify(found.reason);
      const cut = cuts.get(key) ?? { removed: [], by: new Set(), reason: found.reason };
      cuts.set(key, cut);
      cut.removed.push(release);
      for (const by of found.by) cut.by.add(by);
    }
    for (const { removed, by, reason } of cuts.values())
      this.cut(fact, { removed, by: [...by], reason });
    return cuts.size > 0;
  }

  /** The first fact, all of whose releases share this slot and do not have this release. */
  private against(release: number): Fact | undefined {
    const slot = this.bound.slotOf(release);
    if (slot === null) return undefined;
    return this.facts.find(
      (fact) =>
        !fact.releases.includes(release) &&
        fact.releases.length > 0 &&
        fact.releases.every((one) => this.bound.slotOf(one) === slot),
    );
  }

  private cutBySlots(fact: Fact): boolean {
    return this.cutAll(fact, (release) => {
      const by = this.against(release);
      return by === undefined ? null : { by: [by], reason: { kind: 'copies' } };
    });
  }

  private cutByNeeds(fact: Fact): boolean {
    const { catalog } = this.usable;
    return this.cutAll(fact, (release) => {
      for (const [i, { kind, name, range }] of catalog.releases[release]!.needs.entries()) {
        const pool = this.usable.poolOf(catalog.firstNeed[release]! + i);
        if (kind === 'optional' || pool === null) continue;
        const by: Fact[] = [];
        const isOut = pool.releases.every((one) => {
          const against = this.against(one);
          if (against !== undefined) by.push(against);
          return against !== undefined;
        });
        if (isOut) return { by, reason: { kind: 'need', name, range } };
      }
      return null;
    });
  }

  /** The releases that are left of the fact above may need less than when this fact was concluded. */
  private cutByParent(fact: Fact): boolean {
    if (fact.source.kind !== 'need') return false;
    const { parent } = fact.source;
    const needed = this.commonNeeds(parent).get(fact.package);
    if (needed === undefined) return false;
    return this.cutAll(fact, (release) =>
      needed.releases.includes(release)
        ? null
        : { by: [parent], reason: { kind: 'fewer', ranges: needed.ranges } },
    );
  }

  /** Releases that ask for a peer that what stands above them cannot be. */
  private cutByPeers(fact: Fact): boolean {
    const { catalog } = this.usable;
    return this.cutAll(fact, (release) => {
      for (const { name, range, isOptional } of catalog.releases[release]!.peers) {
        const above = this.above(fact, name);
        if (above?.kind === 'fact') {
          if (above.fact === fact || this.admitted(above.fact, name, range).length > 0) continue;
          return { by: [above.fact], reason: { kind: 'peer', name, range, project: null } };
        }
        if (above?.kind === 'project') {
          const { version, folder } = above;
          const isMet =
            version !== null &&
            rangeContains(this.usable.ranges.of(name, range), requireVersion(version));
          if (isMet) continue;
          return { by: [], reason: { kind: 'peer', name, range, project: folder } };
        }
        if (isOptional || above === null || this.usableWithin(name, range).length > 0) continue;
        return { by: [], reason: { kind: 'peer', name, range, project: null } };
      }
      return null;
    });
  }

  /** Takes out of what gives a fact's releases a peer those that none of them takes. */
  private cutWhatGives(fact: Fact): boolean {
    const { catalog } = this.usable;
    let isNew = false;
    const names = new Set(
      fact.releases.flatMap((one) => catalog.releases[one]!.peers.map(({ name }) => name)),
    );
    for (const name of names) {
      const above = this.above(fact, name);
      if (above?.kind !== 'fact' || above.fact === fact) continue;
      const peers = fact.releases.map((one) =>
        catalog.releases[one]!.peers.find((peer) => peer.name === name),
      );
      if (peers.length === 0 || peers.includes(undefined)) continue;
      const ranges = [...new Set(peers.map((peer) => peer!.range))];
      const isCut = this.cutAll(above.fact, (given) => {
        const { version } = catalog.releases[given]!;
        const isTaken = ranges.some((text) =>
          rangeContains(this.usable.ranges.of(name, text), version),
        );
        return isTaken ? null : { by: [fact], reason: { kind: 'asked', ranges } };
      });
      isNew ||= isCut;
    }
    return isNew;
  }

  private admitted({ releases }: Fact, name: string, text: string): readonly number[] {
    const range = this.usable.ranges.of(name, text);
    return releases.filter((one) =>
      rangeContains(range, this.usable.catalog.releases[one]!.version),
    );
  }

  private usableWithin(name: string, text: string): readonly number[] {
    const target = this.usable.catalog.numberOf.get(name);
    if (target === undefined) return [];
    const range = this.usable.ranges.of(name, text);
    return this.usable
      .everyRelease(target, true)
      .releases.filter((one) => rangeContains(range, this.usable.catalog.releases[one]!.version));
  }

  /**
   * The node that gives all releases left of a fact their peer, along the chain that the fact stands for; null: that is
   * open.
   */
  private above(fact: Fact, name: string): Above | null {
    const { source } = fact;
    switch (source.kind) {
      case 'root':
        return this.inProject(source.root.requirements[0]!.project, name);
      case 'supply':
        return this.inProject(source.project, name);
      case 'need': {
        const { parent } = source;
        const { catalog } = this.usable;
        const needs = parent.releases.map((one) =>
          catalog.releases[one]!.needs.find((need) => need.name === name),
        );
        if (needs.every((need) => need === undefined))
          return parent.package === fact.package ? null : this.above(parent, name);
        if (needs.some((need) => need === undefined || need.kind === 'optional')) return null;
        const found = this.byKey.get(`${parent.key} > ${name}`);
        return found === undefined ? null : { kind: 'fact', fact: found };
      }
    }
  }

  private inProject(folder: string, name: string): Above | null {
    const project = this.part.projects.find((one) => one.folder === folder)!;
    const [own] = project.requirements.filter((one) => one.name === name).sort(byKindAndName);
    if (own === undefined) {
      const supply = this.byKey.get(`supply ${folder} ${name}`);
      return supply === undefined
        ? { kind: 'nothing', project: folder }
        : { kind: 'fact', fact: supply };
    }
    const { meaning } = own;
    if (meaning.kind === 'project') {
      const { version } = this.part.projects.find((one) => one.folder === meaning.folder)!;
      return { kind: 'project', folder: meaning.folder, version };
    }
    const fact = this.facts.find(
      ({ source }) => source.kind === 'root' && source.root.requirements.includes(own),
    );
    return fact === undefined ? null : { kind: 'fact', fact };
  }

  /** What every release left of a fact needs, or asks for beside it, must be there too. */
  private derive(): boolean {
    let isNew = false;
    for (const parent of [...this.facts]) {
      for (const [packageNumber, { releases, ranges }] of this.commonNeeds(parent)) {
        const key = `${parent.key} > ${this.usable.catalog.names[packageNumber]!}`;
        if (this.byKey.has(key) || timesAbove(parent, packageNumber) > 1) continue;
        isNew = true;
        this.add(key, packageNumber, { kind: 'need', parent, ranges }, releases);
      }
      if (this.isStrict && this.deriveSupplies(parent)) isNew = true;
    }
    return isNew;
  }

  private deriveSupplies(parent: Fact): boolean {
    const { catalog } = this.usable;
    const [first, ...others] = parent.releases.map((one) => catalog.releases[one]!.peers);
    let isNew = false;
    for (const { name, isOptional } of first ?? []) {
      const peers = [first!, ...others].map((list) => list.find((peer) => peer.name === name));
      if (isOptional || peers.some((peer) => peer === undefined || peer.isOptional)) continue;
      const above = this.above(parent, name);
      const target = catalog.numberOf.get(name);
      if (above?.kind !== 'nothing' || target === undefined) continue;
      const ranges = [...new Set(peers.map((peer) => peer!.range))];
      const releases = new Set(ranges.flatMap((text) => this.usableWithin(name, text)));
      const { project } = above;
      this.add(
        `supply ${project} ${name}`,
        target,
        { kind: 'supply', project, parent, ranges },
        [...releases].sort((a, b) => a - b),
      );
      isNew = true;
    }
    return isNew;
  }

  private commonNeeds({ releases }: Fact): CommonNeeds {
    const known = this.needsOf.get(releases);
    if (known !== undefined) return known;
    const found = this.findCommonNeeds(releases);
    this.needsOf.set(releases, found);
    return found;
  }

  private findCommonNeeds(releases: readonly number[]): CommonNeeds {
    const { catalog } = this.usable;
    const needs = new Map<number, { count: number; releases: number[]; ranges: string[] }>();
    for (const release of releases) {
      for (const [i, { kind, range }] of catalog.releases[release]!.needs.entries()) {
        const pool = this.usable.poolOf(catalog.firstNeed[release]! + i);
        if (kind === 'optional' || pool === null) continue;
        if (this.bound.isRelevant[pool.package] === 0) continue;
        const one = needs.get(pool.package) ?? { count: 0, releases: [], ranges: [] };
        needs.set(pool.package, one);
        one.count += 1;
        one.releases = [...new Set([...one.releases, ...pool.releases])].sort((a, b) => a - b);
        if (!one.ranges.includes(range)) one.ranges.push(range);
      }
    }
    return new Map([...needs].filter(([, one]) => one.count === releases.length));
  }
}

/** How often a package stands on the chain down to a fact. Round a cycle for the third time nothing new follows. */
function timesAbove(fact: Fact, packageNumber: number): number {
  const here = fact.package === packageNumber ? 1 : 0;
  return fact.source.kind === 'need' ? here + timesAbove(fact.source.parent, packageNumber) : here;
}
