import { REQUIREMENT_KINDS } from '../../manifest/index.js';
import type { BoundPackages } from '../policy/bound-packages.js';
import type { Catalog } from '../model/catalog.js';
import { requirementWords, sameAsked, type Unanswered } from './explain-unanswered.js';
import type { RootDemand } from '../policy/policy-search.js';
import { listVersions } from './release-words.js';
import type { UsableReleases } from '../model/usable-releases.js';

/** That a package must have a copy among these releases. */
interface Fact {
  readonly package: number;
  readonly source:
    | { readonly kind: 'root'; readonly root: RootDemand }
    | { readonly kind: 'need'; readonly parent: Fact; readonly ranges: readonly string[] }
    | { readonly kind: 'case' };
  /** Shrinks while conclusions are drawn. */
  releases: readonly number[];
  readonly cuts: Cut[];
}

/** Releases taken out of a fact, and the facts that rule them out. */
interface Cut {
  readonly removed: readonly number[];
  readonly by: readonly Fact[];
  /** The package that they need and cannot have; null: they cannot stand beside the others' copy themselves. */
  readonly need: string | null;
}

const DEEPEST = 6;
const LONGEST = 200;

/**
 * Why requirements cannot be met together, in numbered sentences: what each requires, what follows, what
 * that rules out, and where nothing is left. Where no single conclusion gets further, the releases of one
 * fact are taken case by case. A conflict over peers, or one too deep to be told, is stated as found by search.
 */
export function explainClash(
  roots: readonly RootDemand[],
  usable: UsableReleases,
  bound: BoundPackages,
): Unanswered {
  const groups = roots.map(({ requirements }) => [...requirements].sort(byPlace));
  const telling = new Telling(usable.catalog, bound);
  const isTold = new Refutation(roots, usable, bound, telling).refute([]);
  const sentences = isTold && telling.lines.length <= LONGEST ? telling.lines : bySearch(roots);
  return { requirements: groups.flat(), groups, isAlone: false, sentences };
}

function bySearch(roots: readonly RootDemand[]): readonly string[] {
  return [
    ...roots.map((root) => `${rootWords(root)}.`),
    'Every choice of releases for these was tried, and in none do the policy on copies and the peers of the copies hold; without any one of these requirements there is one.',
  ];
}

function rootWords({ requirements }: RootDemand): string {
  const [first, ...others] = [...requirements].sort(byPlace);
  const more = others.length === 0 ? '' : ` (${sameAsked(others.length).toLowerCase()})`;
  return `${requirementWords(first!)}${more}`;
}

function byPlace(
  a: RootDemand['requirements'][number],
  b: RootDemand['requirements'][number],
): number {
  if (a.file !== b.file) return a.file < b.file ? -1 : 1;
  return REQUIREMENT_KINDS.indexOf(a.kind) - REQUIREMENT_KINDS.indexOf(b.kind);
}

/** Draws conclusions from requirements until one of them has no release left. */
class Refutation {
  private facts: Fact[] = [];

  constructor(
    private readonly roots: readonly RootDemand[],
    private readonly usable: UsableReleases,
    private readonly bound: BoundPackages,
    private readonly telling: Telling,
  ) {}

  /** @param cases releases taken as chosen. @returns whether it was told that nothing is left */
  refute(cases: readonly number[]): boolean {
    this.facts = this.roots.map((root) => ({
      package: root.pool.package,
      source: { kind: 'root', root },
      releases: root.pool.releases,
      cuts: [],
    }));
    const { packageOf } = this.usable.catalog;
    for (const release of cases)
      this.facts.push({
        package: packageOf[release]!,
        source: { kind: 'case' },
        releases: [release],
        cuts: [],
      });
    const empty = this.draw();
    if (empty !== null) {
      this.telling.conclude(empty);
      return true;
    }
    if (cases.length >= DEEPEST) return false;
    const taken = new Set(cases.map((release) => packageOf[release]!));
    const [split] = this.facts
      .filter((fact) => fact.releases.length > 1 && !taken.has(fact.package))
      .sort((a, b) => a.releases.length - b.releases.length || a.package - b.package);
    if (split === undefined) return false;
    const number = this.telling.say(split);
    return split.releases.every((release) => {
      this.telling.open(release, number);
      const isTold = this.refute([...cases, release]);
      this.telling.close();
      return isTold;
    });
  }

  /** @returns a fact without releases, or null when nothing more follows */
  private draw(): Fact | null {
    for (let isNew = true; isNew;) {
      isNew = false;
      for (const fact of this.facts) {
        if (this.cutBySlots(fact) || this.cutByNeeds(fact)) isNew = true;
        if (fact.releases.length === 0) return fact;
      }
      if (this.facts.length < LONGEST && this.derive()) isNew = true;
    }
    return null;
  }

  /** Facts, all of whose releases share this slot and do not have this release. */
  private against(release: number): readonly Fact[] {
    const slot = this.bound.slotOf(release);
    if (slot === null) return [];
    return this.facts.filter(
      (fact) =>
        !fact.releases.includes(release) &&
        fact.releases.length > 0 &&
        fact.releases.every((one) => this.bound.slotOf(one) === slot),
    );
  }

  private cutBySlots(fact: Fact): boolean {
    const removed = new Map<Fact, number[]>();
    for (const release of fact.releases) {
      const [by] = this.against(release);
      if (by !== undefined) removed.set(by, [...(removed.get(by) ?? []), release]);
    }
    for (const [by, releases] of removed)
      this.cut(fact, { removed: releases, by: [by], need: null });
    return removed.size > 0;
  }

  private cutByNeeds(fact: Fact): boolean {
    const cuts = new Map<string, { removed: number[]; by: Set<Fact>; need: string }>();
    for (const release of fact.releases) {
      const found = this.impossibleNeed(release);
      if (found === null) continue;
      const cut = cuts.get(found.need) ?? { removed: [], by: new Set(), need: found.need };
      cuts.set(found.need, cut);
      cut.removed.push(release);
      for (const by of found.by) cut.by.add(by);
    }
    for (const { removed, by, need } of cuts.values())
      this.cut(fact, { removed, by: [...by], need });
    return cuts.size > 0;
  }

  private cut(fact: Fact, cut: Cut): void {
    fact.releases = fact.releases.filter((release) => !cut.removed.includes(release));
    fact.cuts.push(cut);
  }

  /** A need all of whose releases other facts rule out. */
  private impossibleNeed(
    release: number,
  ): { readonly need: string; readonly by: readonly Fact[] } | null {
    const { catalog } = this.usable;
    for (const [i, { kind, name, range }] of catalog.releases[release]!.needs.entries()) {
      const pool = this.usable.poolOf(catalog.firstNeed[release]! + i);
      if (kind === 'optional' || pool === null) continue;
      const by: Fact[] = [];
      const isOut = pool.releases.every((one) => {
        const [fact] = this.against(one);
        if (fact !== undefined) by.push(fact);
        return fact !== undefined;
      });
      if (isOut) return { need: `${name} ${range}`, by };
    }
    return null;
  }

  /** What every release left of a fact needs must be there too. */
  private derive(): boolean {
    let isNew = false;
    for (const parent of [...this.facts]) {
      for (const [packageNumber, { releases, ranges }] of this.commonNeeds(parent)) {
        const known = this.facts.find(
          ({ source, package: one }) =>
            one === packageNumber && source.kind === 'need' && source.parent === parent,
        );
        if (known !== undefined) continue;
        isNew = true;
        this.facts.push({
          package: packageNumber,
          source: { kind: 'need', parent, ranges },
          releases,
          cuts: [],
        });
      }
    }
    return isNew;
  }

  private commonNeeds({ releases }: Fact) {
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
    return [...needs].filter(([, one]) => one.count === releases.length);
  }
}

/** Puts facts into numbered sentences, each said once. */
class Telling {
  readonly lines: string[] = [];
  private readonly numbers = new Map<Fact, number>();
  private depth = 0;

  constructor(
    private readonly catalog: Catalog,
    private readonly bound: BoundPackages,
  ) {}

  conclude(fact: Fact): void {
    this.line(`So nothing is left for (${this.say(fact)}).`);
  }

  open(release: number, number: number): void {
    const name = this.catalog.nameOf(release);
    this.line(`Suppose ${name} ${this.catalog.releases[release]!.text} for (${number}):`);
    this.depth += 1;
  }

  close(): void {
    this.depth -= 1;
  }

  /** @returns the number of the sentence that states the fact */
  say(fact: Fact): number {
    const known = this.numbers.get(fact);
    if (known !== undefined) return known;
    const { source } = fact;
    const parent = source.kind === 'need' ? this.say(source.parent) : 0;
    const number = this.numbers.size + 1;
    this.numbers.set(fact, number);
    this.line(`(${number}) ${this.opening(fact, parent)}`);
    for (const cut of fact.cuts) this.sayCut(fact, cut, number);
    return number;
  }

  private line(text: string): void {
    this.lines.push(`${'  '.repeat(this.depth)}${text}`);
  }

  private opening(
    { source, package: packageNumber, releases, cuts }: Fact,
    parent: number,
  ): string {
    const name = this.catalog.names[packageNumber]!;
    const all = [...releases, ...cuts.flatMap(({ removed }) => removed)].sort((a, b) => a - b);
    const versions = listVersions(this.catalog, all);
    switch (source.kind) {
      case 'root':
        return `${rootWords(source.root)}; there is ${versions}.`;
      case 'need':
        return `What is left of (${parent}) needs ${name} ${source.ranges.join(' or ')}; there is ${versions}.`;
      case 'case':
        return `${name} ${versions} is a copy.`;
    }
  }

  private sayCut(fact: Fact, { removed, by, need }: Cut, number: number): void {
    const numbers = by.map((one) => `(${this.say(one)})`);
    const name = this.catalog.names[fact.package]!;
    const versions = `${name} ${listVersions(this.catalog, removed)}`;
    const verb = removed.length === 1 ? 'is' : 'are';
    const because = [...new Set(numbers)].join(' and ');
    if (need !== null) {
      const needs = removed.length === 1 ? 'needs' : 'need';
      this.line(
        `${versions} ${needs} ${need}, which ${because} ${by.length === 1 ? 'rules' : 'rule'} out, so ${versions} ${verb} out of (${number}).`,
      );
      return;
    }
    const allowed =
      this.bound.policyOf(fact.package) === 'one'
        ? `one copy of ${name}`
        : `one copy of ${name} for each major version`;
    this.line(
      `The policy allows ${allowed}, and ${because} does not admit ${versions} of (${number}).`,
    );
  }
}
