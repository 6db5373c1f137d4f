import { rangeFor } from '../../manifest/index.js';
import { rangeContains, requireVersion } from '../../version/index.js';
import { linksOf, strongComponents } from '../../links/index.js';
import type { Watch } from '../choose/settlement.js';
import type { Engine, Question } from '../engine.js';
import {
  copyKey,
  type AnsweredRequirement,
  type Copy,
  type Resolution,
} from '../model/resolution.js';
import { PickTrials } from './pick-trials.js';
import type { RePick } from '../model/held-answers.js';

/** A copy that goes when answers are picked otherwise, without a change to any manifest. */
export interface NeedlessCopy {
  readonly name: string;
  readonly version: string;
  /** What to pick otherwise: the copy itself, or the copies that ask for it. */
  readonly rePicks: readonly RePick[];
  /** How many copies are left in all. */
  readonly copiesAfter: number;
}

/**
 * Finds copies that could go by picking other releases alone: because another copy of the package meets the
 * demands too, or because the copies that ask for it have another release that their own demands admit and
 * that asks for one of the others or for none. Each is proven by answering with those picks: the copy is
 * gone, there are fewer copies in all, and no package has more than before.
 * @param only the one package whose copies are looked at; without it all
 * @param watch hears how many copies are still to be looked at; whatever it throws stops the work
 * Cost: one resolution, and for each copy of a package that has several what at most six trials touch.
 */
export function needlessCopies(
  engine: Engine,
  question: Omit<Question, 'before' | 'refresh'>,
  resolution: Resolution,
  only?: string,
  watch: Watch = () => undefined,
): readonly NeedlessCopy[] {
  const finder = new NeedlessFinder(engine, question, resolution, watch);
  const candidates = resolution.copies.filter(
    ({ name }) => (only === undefined || name === only) && finder.isOneOfSeveral(name),
  );
  return candidates.flatMap((copy, i) => {
    watch(candidates.length - i);
    return finder.find(copy) ?? [];
  });
}

const MOST_TRIES = 6;

interface Asker {
  readonly owner: Copy | null;
  readonly range: string;
}

class NeedlessFinder {
  private trials: PickTrials | null = null;
  private components: ReadonlyMap<Copy, number> | null = null;
  private readonly byName = new Map<string, Copy[]>();
  private readonly askers = new Map<string, Asker[]>();

  constructor(
    private readonly engine: Engine,
    private readonly question: Omit<Question, 'before' | 'refresh'>,
    private readonly resolution: Resolution,
    private readonly watch: Watch,
  ) {
    const ask = (owner: Copy | null, { name, range, answer }: AnsweredRequirement): void => {
      if (answer.kind !== 'copy') return;
      const key = `${name} ${answer.version}`;
      const known = this.askers.get(key);
      if (known === undefined) this.askers.set(key, [{ owner, range: range ?? '*' }]);
      else known.push({ owner, range: range ?? '*' });
    };
    for (const { requirements } of resolution.projects)
      for (const requirement of requirements) ask(null, requirement);
    for (const copy of resolution.copies) {
      this.byName.set(copy.name, [...(this.byName.get(copy.name) ?? []), copy]);
      for (const requirement of copy.requirements) ask(copy, requirement);
    }
  }

  isOneOfSeveral(name: string): boolean {
    return this.byName.get(name)!.length > 1;
  }

  find(copy: Copy): NeedlessCopy | null {
    const others = this.byName.get(copy.name)!.filter((one) => one !== copy);
    if (others.length === 0) return null;
    for (const rePicks of this.plans(copy, others).slice(0, MOST_TRIES)) {
      const copiesAfter = this.tryOut(copy, rePicks);
      if (copiesAfter !== null)
        return { name: copy.name, version: copy.version, rePicks, copiesAfter };
    }
    return null;
  }

  /** Sets of re-picks that leave nobody asking for the copy. */
  private plans(copy: Copy, others: readonly Copy[]): readonly (readonly RePick[])[] {
    const askers = this.askers.get(copyKey(copy)) ?? [];
    const stuck = askers.filter(({ range }) => !others.some((one) => this.admits(range, one)));
    // In a cycle the copies that ask for this one may be there only because of it, and go with it.
    const isLeft = stuck.every(({ owner }) => owner !== null && this.isInCycle(owner, copy));
    return [
      ...(isLeft ? this.otherCopies(copy, others) : []),
      ...this.byOwners(stuck, copy, others),
    ];
  }

  private otherCopies(copy: Copy, others: readonly Copy[]): readonly (readonly RePick[])[] {
    return [...others]
      .reverse()
      .map(({ version }) => [{ name: copy.name, from: copy.version, to: version }]);
  }

  /** Sets of re-picks: other releases of the copies that ask for a range that only this copy meets. */
  private byOwners(
    stuck: readonly Asker[],
    copy: Copy,
    others: readonly Copy[],
  ): readonly (readonly RePick[])[] {
    if (stuck.length === 0) return [];
    const owners = [...new Set(stuck.map(({ owner }) => owner))];
    const choices = owners.map((owner) =>
      owner === null ? [] : this.otherReleases(owner, copy, others),
    );
    if (choices.some((list) => list.length === 0)) return [];
    const longest = Math.max(...choices.map((list) => list.length));
    const rest = others.at(-1)!;
    return Array.from({ length: longest }, (_, i) => [
      ...choices.map((list) => list[Math.min(i, list.length - 1)]!),
      { name: copy.name, from: copy.version, to: rest.version },
    ]);
  }

  /** Releases that all demands on an owner admit and that do not ask for the copy, newest first. */
  private otherReleases(owner: Copy, copy: Copy, others: readonly Copy[]): readonly RePick[] {
    const demands = this.askers.get(copyKey(owner)) ?? [];
    const releases = this.engine.records.get(owner.name)?.releases ?? [];
    return releases
      .filter(({ text, needs }) => {
        if (text === owner.version) return false;
        const need = needs.find(({ name }) => name === copy.name);
        const isFree = need === undefined || others.some((one) => this.admits(need.range, one));
        return isFree && demands.every(({ range }) => this.admitsVersion(owner.name, range, text));
      })
      .map(({ text }) => ({ name: owner.name, from: owner.version, to: text }))
      .reverse();
  }

  private isInCycle(a: Copy, b: Copy): boolean {
    this.components ??= componentsOf(this.resolution.copies);
    return this.components.get(a) === this.components.get(b);
  }

  private admits(range: string, { name, version }: Copy): boolean {
    return this.admitsVersion(name, range, version);
  }

  private admitsVersion(name: string, range: string, version: string): boolean {
    const { policy } = this.question.workspace;
    return rangeContains(rangeFor(policy, name, range), requireVersion(version));
  }

  /** How many copies are left with these picks; null: they do not do it. */
  private tryOut({ name, version }: Copy, rePicks: readonly RePick[]): number | null {
    this.trials ??= new PickTrials(this.engine, this.question, this.resolution, this.watch);
    const trials = this.trials;
    return trials.try(rePicks, (trial) => {
      if (trial === null || trial.hasCopy(name, version)) return null;
      if (trial.copies >= this.resolution.copies.length || trials.hasMoreOfAny(trial)) return null;
      return trial.copies;
    });
  }
}

/** The strongly connected component of each copy. O(requirements). */
function componentsOf(copies: readonly Copy[]): ReadonlyMap<Copy, number> {
  const numbers = new Map(copies.map((copy, i) => [copyKey(copy), i]));
  const { of } = strongComponents(
    linksOf(
      copies.map(({ requirements }) =>
        requirements.flatMap(({ name, answer }) =>
          answer.kind === 'copy' ? [numbers.get(copyKey({ name, version: answer.version }))!] : [],
        ),
      ),
    ),
  );
  return new Map(copies.map((copy, i) => [copy, of[i]!]));
}
