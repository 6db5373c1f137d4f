import { unreachable } from '../../text/index.js';
import { rangeContains, requireRange } from '../../version/index.js';
import type { Requirement } from '../../workspace/index.js';
import { count, listVersions } from './release-words.js';
import type { Unusable, UsableReleases } from '../model/usable-releases.js';

/** Requirements of projects that cannot be answered, and why, in sentences, the nearest cause last. */
export interface Unanswered {
  readonly requirements: readonly Requirement[];
  /** The same, those that ask for the same together. */
  readonly groups: readonly (readonly Requirement[])[];
  /** Is every one of them without an answer by itself? Else they clash. */
  readonly isAlone: boolean;
  /** A step that is needed again bears a number and is said once, perhaps in an explanation before. */
  readonly sentences: readonly string[];
}

/**
 * Why no release answers these requirements. Those that ask for the same are told together. O(releases
 * passed on the way), each range of a package once.
 */
export function explainUnanswered(
  open: readonly Requirement[],
  usable: UsableReleases,
): readonly Unanswered[] {
  const groups = new Map<string, Requirement[]>();
  for (const requirement of open) {
    const key = `${requirement.name} ${rangeText(requirement)} ${requirement.targets.join(' ')}`;
    const group = groups.get(key);
    if (group === undefined) groups.set(key, [requirement]);
    else group.push(requirement);
  }
  const explainer = new Explainer(usable);
  return [...groups.values()].map((requirements) => ({
    requirements,
    groups: [requirements],
    isAlone: true,
    sentences: explainer.explain(requirements),
  }));
}

export function rangeText({ meaning }: Requirement): string {
  return meaning.kind === 'range' ? meaning.text : '*';
}

/** The requirement with its place, for the head of an explanation. */
export function requirementWords(requirement: Requirement): string {
  const { file, line, name, written, isEverywhere } = requirement;
  const range = rangeText(requirement);
  const asked = written === 'shared' ? `the shared version ${range}` : range;
  const whom = isEverywhere ? ' of every project' : '';
  return `${file}:${line} requires ${name} ${asked}${whom}`;
}

export function sameAsked(more: number): string {
  return more === 1
    ? 'One more requirement asks for the same'
    : `${more} more requirements ask for the same`;
}

class Explainer {
  private readonly numbers = new Map<string, number>();
  private readonly said = new Set<string>();

  constructor(private readonly usable: UsableReleases) {}

  explain(requirements: readonly Requirement[]): readonly string[] {
    const [first, ...others] = requirements;
    const sentences = [`${requirementWords(first!)}.`];
    if (others.length > 0) sentences.push(`${sameAsked(others.length)}.`);
    const open: (readonly [string, string])[] = [[first!.name, rangeText(first!)]];
    const head = stepKey(...open[0]!);
    if (this.said.has(head)) return [...sentences, `Nothing answers it: see ${this.refer(head)}.`];
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      const key = stepKey(...next);
      if (this.said.has(key)) continue;
      this.said.add(key);
      const number = this.numbers.get(key);
      const [opening, ...rest] = this.step(...next, open);
      sentences.push(number === undefined ? opening! : `(${number}) ${opening!}`, ...rest);
    }
    return sentences;
  }

  private refer(key: string): string {
    let number = this.numbers.get(key);
    if (number === undefined) this.numbers.set(key, (number = this.numbers.size + 1));
    return `(${number})`;
  }

  /** What is to be said of one range of a package; adds what it hangs on. */
  private step(name: string, text: string, open: (readonly [string, string])[]): readonly string[] {
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
      const reason = this.usable.reason(release);
      const { published: _published, ...kind } = { published: '', ...reason };
      const key = JSON.stringify(kind);
      const group = groups.get(key);
      if (group === undefined) groups.set(key, { reason, releases: [release] });
      else group.releases.push(release);
    }
    return [...groups.values()].map(({ reason, releases }) => {
      if (reason?.kind === 'need-unanswered') open.push([reason.name, reason.range]);
      return this.sentence(name, releases, reason);
    });
  }

  private nothingInRange(name: string, text: string, all: readonly number[]): string {
    const { catalog } = this.usable;
    if (all.length === 0) return `${name} has no releases at all.`;
    const prereleases = all.filter((one) =>
      rangeContains(requireRange(text, 'always'), catalog.releases[one]!.version),
    );
    if (prereleases.length > 0)
      return `Only prereleases of ${name} lie in ${text} (${listVersions(catalog, prereleases)}), and the policy does not admit them. Name one in the range to allow it.`;
    const [oldest, newest] = [all[0]!, all.at(-1)!].map((one) => catalog.releases[one]!.text);
    return `${name} has ${count(all.length, 'release')} from ${oldest} to ${newest}, none of them in ${text}.`;
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
        return `${subject} ${plural ? 'are' : 'is'} younger than the ${count(reason.minimumAgeDays, 'day')} that the policy asks for.`;
      case 'pinned-elsewhere':
        return `${subject} ${plural ? 'are' : 'is'} ruled out by the pin of ${name} to ${reason.pin}.`;
      case 'not-chosen':
        return `${subject} ${plural ? 'are' : 'is'} left out of the question.`;
      case 'platform': {
        const asks = `${subject} ${plural ? 'ask' : 'asks'} for ${reason.name} ${reason.asks}`;
        return reason.offered === null
          ? `${asks}, which the workspace's platform does not offer.`
          : `${asks}; the workspace's platform offers ${reason.offered}.`;
      }
      case 'need-unanswered': {
        const number = this.refer(stepKey(reason.name, reason.range));
        return `${subject} ${plural ? 'need' : 'needs'} ${reason.name} ${reason.range}, which nothing answers ${number}.`;
      }
      default:
        return unreachable(reason);
    }
  }
}

function stepKey(name: string, text: string): string {
  return `${name}\n${text}`;
}

function numbersFrom(start: number, end: number): readonly number[] {
  return Array.from({ length: end - start }, (_, i) => start + i);
}
