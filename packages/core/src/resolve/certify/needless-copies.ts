import { rangeContains, requireRange, requireVersion } from '../../version/index.js';
import { policyOf } from '../../manifest/index.js';
import type { Workspace } from '../../workspace/index.js';
import type { Engine, Question } from '../engine.js';
import {
  copyKey,
  type Answer,
  type AnsweredRequirement,
  type Copy,
  type Resolution,
} from '../model/resolution.js';

/** Another release for what a copy answers, as far as ranges admit it. */
export interface RePick {
  readonly name: string;
  readonly from: string;
  readonly to: string;
}

/** A copy that goes when answers are picked otherwise, without a change to any manifest. */
export interface NeedlessCopy {
  readonly name: string;
  readonly version: string;
  /** What to pick otherwise: the copy itself, or the copies that ask for it. */
  readonly rePicks: readonly RePick[];
  /** What comes of it: one resolution, made to prove it. */
  readonly after: Resolution;
}

/** The answers with some picked otherwise, for a resolution to hold on to. O(requirements). */
export function withRePicks(
  workspace: Workspace,
  resolution: Resolution,
  rePicks: readonly RePick[],
): Resolution {
  const byKey = new Map(rePicks.map((one) => [`${one.name} ${one.from}`, one]));
  const change = (requirement: AnsweredRequirement): AnsweredRequirement => {
    const { name, range, answer } = requirement;
    if (answer.kind !== 'copy' || range === null) return requirement;
    const rePick = byKey.get(`${name} ${answer.version}`);
    if (rePick === undefined || !isAdmitted(workspace, name, range, rePick.to)) return requirement;
    const changed: Answer = { kind: 'copy', version: rePick.to };
    return { ...requirement, answer: changed };
  };
  const each = <T extends { readonly requirements: readonly AnsweredRequirement[] }>(
    one: T,
  ): T => ({
    ...one,
    requirements: one.requirements.map(change),
  });
  return { projects: resolution.projects.map(each), copies: resolution.copies.map(each) };
}

function isAdmitted(workspace: Workspace, name: string, range: string, to: string): boolean {
  const { prereleases } = policyOf(workspace.policy, name);
  return rangeContains(requireRange(range, prereleases), requireVersion(to));
}

/**
 * Finds copies that could go by picking other releases alone: because another copy of the package meets the
 * demands too, or because the copies that ask for it have another release that their own demands admit and
 * that asks for one of the others or for none. Each is proven by resolving with those picks: the copy is
 * gone, there are fewer copies in all, and no package has more than before.
 * @param only the one package whose copies are looked at; without it all
 * Cost: at most a few resolutions for each copy of a package that has several; an engine makes them cheap.
 */
export function needlessCopies(
  engine: Engine,
  question: Omit<Question, 'before' | 'refresh'>,
  resolution: Resolution,
  only?: string,
): readonly NeedlessCopy[] {
  const finder = new NeedlessFinder(engine, question, resolution);
  return resolution.copies
    .filter(({ name }) => only === undefined || name === only)
    .flatMap((copy) => finder.find(copy) ?? []);
}

const MOST_TRIES = 6;

interface Asker {
  readonly owner: Copy | null;
  readonly range: string;
}

class NeedlessFinder {
  private readonly byName = new Map<string, Copy[]>();
  private readonly askers = new Map<string, Asker[]>();

  constructor(
    private readonly engine: Engine,
    private readonly question: Omit<Question, 'before' | 'refresh'>,
    private readonly resolution: Resolution,
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

  find(copy: Copy): NeedlessCopy | null {
    const others = this.byName.get(copy.name)!.filter((one) => one !== copy);
    if (others.length === 0) return null;
    for (const rePicks of this.plans(copy, others).slice(0, MOST_TRIES)) {
      const after = this.tryOut(copy, rePicks);
      if (after !== null) return { name: copy.name, version: copy.version, rePicks, after };
    }
    return null;
  }

  /** Sets of re-picks that leave nobody asking for the copy. */
  private plans(copy: Copy, others: readonly Copy[]): readonly (readonly RePick[])[] {
    const askers = this.askers.get(copyKey(copy)) ?? [];
    const stuck = askers.filter(({ range }) => !others.some((one) => this.admits(range, one)));
    if (stuck.length === 0) {
      return [...others]
        .reverse()
        .map(({ version }) => [{ name: copy.name, from: copy.version, to: version }]);
    }
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

  private admits(range: string, { name, version }: Copy): boolean {
    return this.admitsVersion(name, range, version);
  }

  private admitsVersion(name: string, range: string, version: string): boolean {
    return isAdmitted(this.question.workspace, name, range, version);
  }

  private tryOut({ name, version }: Copy, rePicks: readonly RePick[]): Resolution | null {
    const before = withRePicks(this.question.workspace, this.resolution, rePicks);
    const outcome = this.engine.resolve({ ...this.question, before });
    if (outcome.kind !== 'answered') return null;
    const { copies } = outcome.resolution;
    if (copies.some((one) => one.name === name && one.version === version)) return null;
    if (copies.length >= this.resolution.copies.length) return null;
    const counts = new Map<string, number>();
    for (const one of copies) counts.set(one.name, (counts.get(one.name) ?? 0) + 1);
    const isMore = [...counts].some(
      ([other, now]) => now > Math.max(1, this.byName.get(other)?.length ?? 0),
    );
    return isMore ? null : outcome.resolution;
  }
}
