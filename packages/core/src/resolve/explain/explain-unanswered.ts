import { unreachable } from '../../text/index.js';
import { isSameVersion, rangeContains, requireVersion } from '../../version/index.js';
import type { Requirement } from '../../workspace/index.js';
import { Citing, type Cites } from './cites.js';
import { count, listVersions } from './release-words.js';
import { rangeText, requirementWords, sameAsked } from './requirement-words.js';
import type { Unusable } from '../model/release-terms.js';
import type { UsableReleases } from '../model/usable-releases.js';

/** Requirements of projects that cannot be answered, and why, in sentences, the nearest cause last. */
export interface Unanswered {
  readonly requirements: readonly Requirement[];
  /** The same, those that ask for the same together. */
  readonly groups: readonly (readonly Requirement[])[];
  /** Is every one of them without an answer by itself? Else they clash. */
  readonly isAlone: boolean;
  /** A step that is needed again bears a number and is said once, perhaps in an explanation before. */
  readonly sentences: readonly string[];
  /** The settings that the sentences name. */
  readonly cites: Cites;
}

/**
 * Why no release answers these requirements. Requirements that ask for the same are told together. O(releases passed on
 * the way), each range of a package once.
 */
export function explainUnanswered(
  open: readonly Requirement[],
  usable: UsableReleases,
): readonly Unanswered[] {
  const groups = new Map<string, Requirement[]>();
  for (const requirement of open) {
    const isLeftOut = usable.isLeftOut(requirement.project, requirement.name);
    const key = `${requirement.name} ${rangeText(requirement)} ${String(isLeftOut)} ${requirement.targets.join(' ')}`;
    const group = groups.get(key);
    if (group === undefined) groups.set(key, [requirement]);
    else group.push(requirement);
  }
  const explainer = new Explainer(usable);
  return [...groups.values()].map((requirements) => ({
    requirements,
    groups: [requirements],
    isAlone: true,
    ...explainer.explain(requirements),
  }));
}

/** What is to be said of one range of a package, and what that names. */
interface Step {
  readonly name: string;
  readonly text: string;
  /** The package's pin leaves out the versions that could answer it. */
  readonly isLeftOut: boolean;
}

class Explainer {
  private readonly numbers = new Map<string, number>();
  private readonly said = new Set<string>();
  /** What each step cites, and the steps that it goes on to. */
  private readonly steps = new Map<string, { readonly citing: Citing; readonly next: Step[] }>();
  private citing = new Citing();

  constructor(private readonly usable: UsableReleases) {}

  explain(requirements: readonly Requirement[]): Pick<Unanswered, 'sentences' | 'cites'> {
    const [first, ...others] = requirements;
    const sentences = [`${requirementWords(first!)}.`];
    if (others.length > 0) sentences.push(`${sameAsked(others.length)}.`);
    const { project, name } = first!;
    const isLeftOut = this.usable.isLeftOut(project, name);
    const head: Step = { name, text: rangeText(first!), isLeftOut };
    const key = stepKey(head);
    if (this.said.has(key)) sentences.push(`Nothing answers it: see ${this.refer(key)}.`);
    else this.sayFrom(head, sentences);
    return { sentences, cites: this.citesFrom(head) };
  }

  private sayFrom(head: Step, sentences: string[]): void {
    const open = [head];
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      const key = stepKey(next);
      if (this.said.has(key)) continue;
      this.said.add(key);
      const number = this.numbers.get(key);
      const on: Step[] = [];
      this.citing = new Citing();
      const [opening, ...rest] = this.step(next, on);
      this.steps.set(key, { citing: this.citing, next: on });
      open.push(...on);
      sentences.push(number === undefined ? opening! : `(${number}) ${opening!}`, ...rest);
    }
  }

  /** All that the steps from one on cite, said here or in an explanation before. */
  private citesFrom(head: Step): Cites {
    const all = new Citing();
    const seen = new Set<string>();
    const open = [head];
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      const key = stepKey(next);
      if (seen.has(key)) continue;
      seen.add(key);
      const step = this.steps.get(key);
      if (step === undefined) continue;
      for (const name of step.citing.pins) all.pins.add(name);
      for (const name of step.citing.ages) all.ages.add(name);
      for (const [at, one] of step.citing.platforms) all.platforms.set(at, one);
      open.push(...step.next);
    }
    return all.cites();
  }

  private refer(key: string): string {
    let number = this.numbers.get(key);
    if (number === undefined) this.numbers.set(key, (number = this.numbers.size + 1));
    return `(${number})`;
  }

  /** @param next gets the steps that this one depends on */
  private step({ name, text, isLeftOut }: Step, next: Step[]): readonly string[] {
    const { catalog, ranges } = this.usable;
    const packageNumber = catalog.numberOf.get(name);
    if (packageNumber === undefined || catalog.record(name) === null)
      return [`The registry has no package ${name}. Correct the name or publish the package.`];
    const range = ranges.of(name, text);
    const all = numbersFrom(
      catalog.firstRelease[packageNumber]!,
      catalog.firstRelease[packageNumber + 1]!,
    );
    const inRange = all.filter((one) => rangeContains(range, catalog.releases[one]!.version));
    if (inRange.length === 0) return [this.nothingInRange(name, text, all)];
    const groups = new Map<string, { reason: Unusable | null; releases: number[] }>();
    for (const release of inRange) {
      const reasons = this.usable.whyNot(release, isLeftOut);
      for (const reason of reasons.length === 0 ? [null] : reasons) {
        const { published: _published, ...kind } = { published: '', ...reason };
        const key = JSON.stringify(kind);
        const group = groups.get(key);
        if (group === undefined) groups.set(key, { reason, releases: [release] });
        else group.releases.push(release);
      }
    }
    const sentences = [...groups.values()].map(({ reason, releases }) => {
      if (reason?.kind === 'need-unanswered')
        next.push({ name: reason.name, text: reason.range, isLeftOut: false });
      return this.sentence(name, releases, reason);
    });
    return [...sentences, ...this.whyNotThePin(name, text, isLeftOut, all, inRange)];
  }

  /** Why the pinned release itself does not answer, where its own reason is not among those given. */
  private whyNotThePin(
    name: string,
    text: string,
    isLeftOut: boolean,
    all: readonly number[],
    inRange: readonly number[],
  ): readonly string[] {
    const pin = inRange
      .flatMap((one) => this.usable.whyNot(one, isLeftOut))
      .find((one) => one.kind === 'pinned-elsewhere');
    if (pin === undefined) return [];
    const version = requireVersion(pin.pin);
    const { releases } = this.usable.catalog;
    const pinned = all.find((one) => isSameVersion(releases[one]!.version, version));
    if (pinned === undefined)
      return [`The registry has no release ${pin.pin} of ${name}, to which it is pinned.`];
    return inRange.includes(pinned)
      ? []
      : [`${name} ${pin.pin}, to which it is pinned, is not in ${text}.`];
  }

  private nothingInRange(name: string, text: string, all: readonly number[]): string {
    const { catalog } = this.usable;
    if (all.length === 0) return `${name} has no releases at all.`;
    const range = this.usable.ranges.withPrereleases(name, text);
    const prereleases = all.filter((one) => rangeContains(range, catalog.releases[one]!.version));
    if (prereleases.length > 0)
      return `Only prereleases of ${name} lie in ${text} (${listVersions(catalog, prereleases)}), and the policy does not admit them. Name one in the range to allow it.`;
    const [oldest, newest] = [all[0]!, all.at(-1)!].map((one) => catalog.releases[one]!.text);
    return all.length === 1
      ? `${name} has one release, ${oldest}, which is not in ${text}.`
      : `${name} has ${all.length} releases from ${oldest} to ${newest}, none of them in ${text}.`;
  }

  private sentence(name: string, releases: readonly number[], reason: Unusable | null): string {
    const subject = `${name} ${listVersions(this.usable.catalog, releases)}`;
    const plural = releases.length > 1;
    if (reason === null)
      return `${subject} ${plural ? 'are' : 'is'} for other targets than the workspace's.`;
    switch (reason.kind) {
      case 'unreadable':
        return `${subject} cannot be used: in the registry's document, at ${reason.pointer}: ${reason.message}.`;
      case 'withdrawn':
        return `${subject} ${plural ? 'were' : 'was'} withdrawn by the publisher.`;
      case 'not-yet-published':
        return `${subject} ${plural ? 'were' : 'was'} not yet published on that day.`;
      case 'too-new':
        this.citing.ages.add(name);
        return `${subject} ${plural ? 'are' : 'is'} younger than the ${count(reason.minimumAgeDays, 'day')} that the policy asks for.`;
      case 'pinned-elsewhere':
        this.citing.pins.add(name);
        return `${subject} ${plural ? 'are' : 'is'} ruled out by the pin of ${name} to ${reason.pin}.`;
      case 'not-chosen':
        return `${subject} ${plural ? 'are' : 'is'} left out of the question.`;
      case 'platform': {
        const cited = { package: name, name: reason.name };
        this.citing.platforms.set(`${name}\n${reason.name}`, cited);
        const asks = `${subject} ${plural ? 'ask' : 'asks'} for ${reason.name} ${reason.asks}`;
        return reason.offered === null
          ? `${asks}, which the workspace's platform does not offer.`
          : `${asks}; the workspace's platform offers ${reason.offered}.`;
      }
      case 'need-unanswered': {
        const number = this.refer(
          stepKey({ name: reason.name, text: reason.range, isLeftOut: false }),
        );
        return `${subject} ${plural ? 'need' : 'needs'} ${reason.name} ${reason.range}, which nothing answers ${number}.`;
      }
      default:
        return unreachable(reason);
    }
  }
}

function stepKey({ name, text, isLeftOut }: Step): string {
  return `${name}\n${text}${isLeftOut ? '\nleft out' : ''}`;
}

function numbersFrom(start: number, end: number): readonly number[] {
  return Array.from({ length: end - start }, (_, i) => start + i);
}
