import type { Release } from '../registry/index.js';
import { unreachable } from '../text/index.js';
import { rangeContains, requireRange } from '../version/index.js';
import type { Requirement } from '../workspace/index.js';
import type { Unusable, UsableReleases } from './usable-releases.js';

/** A project's requirement that nothing can answer, with the reasons in sentences, the nearest cause last. */
export interface Unanswered {
  readonly requirement: Requirement;
  readonly sentences: readonly string[];
}

/** Why no release answers this requirement. Each package that is passed on the way is spoken of once. */
export function explainUnanswered(requirement: Requirement, usable: UsableReleases): Unanswered {
  const { name, meaning, written, file } = requirement;
  const range = meaning.kind === 'range' ? meaning.text : '*';
  const asked = written === 'shared' ? `the shared version ${range}` : range;
  const sentences = [`${file} requires ${name} ${asked}.`];
  const spoken = new Set<string>();
  const open: [string, string][] = [[name, range]];
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    const [needed, text] = next;
    if (spoken.has(needed)) continue;
    spoken.add(needed);
    const record = usable.catalog.record(needed);
    if (record === null) {
      sentences.push(
        `The registry has no package ${needed}. Correct the name or publish the package.`,
      );
      continue;
    }
    const policyRange = usable.ranges.of(needed, text);
    const inRange = record.releases.filter(({ version }) => rangeContains(policyRange, version));
    if (inRange.length === 0) {
      sentences.push(nothingInRange(needed, text, record.releases));
      continue;
    }
    for (const [reason, releases] of groupByReason(needed, inRange, usable)) {
      sentences.push(sentenceOf(needed, releases, reason));
      if (reason?.kind === 'need-unanswered') open.push([reason.name, reason.range]);
    }
  }
  return { requirement, sentences };
}

function nothingInRange(name: string, text: string, releases: readonly Release[]): string {
  const newest = releases.at(-1);
  if (newest === undefined) return `${name} has no releases at all.`;
  const prereleases = releases.filter(({ version }) =>
    rangeContains(requireRange(text, 'always'), version),
  );
  if (prereleases.length > 0) {
    return `Only prereleases of ${name} lie in ${text} (${listVersions(prereleases)}), and the policy does not admit them. Name one in the range to allow it.`;
  }
  return `${name} has ${count(releases.length, 'release')} from ${releases[0]!.text} to ${newest.text}, none of them in ${text}.`;
}

function groupByReason(
  name: string,
  releases: readonly Release[],
  usable: UsableReleases,
): readonly (readonly [Unusable | null, readonly Release[]])[] {
  const groups = new Map<string, [Unusable | null, Release[]]>();
  for (const release of releases) {
    const reason = usable.reason(usable.catalog.releaseNumber(name, release.text)!);
    const { published: _published, ...kind } = { published: '', ...reason };
    const key = JSON.stringify(kind);
    const group = groups.get(key);
    if (group === undefined) groups.set(key, [reason, [release]]);
    else group[1].push(release);
  }
  return [...groups.values()];
}

function sentenceOf(name: string, releases: readonly Release[], reason: Unusable | null): string {
  const subject = `${name} ${listVersions(releases)}`;
  const plural = releases.length > 1;
  if (reason === null)
    return `${subject} ${plural ? 'are' : 'is'} for other targets than the workspace's.`;
  switch (reason.kind) {
    case 'withdrawn':
      return `${subject} ${plural ? 'were' : 'was'} withdrawn by the publisher.`;
    case 'not-yet-published':
      return `${subject} ${plural ? 'were' : 'was'} not yet published on that day.`;
    case 'too-new':
      return `${subject} ${plural ? 'are' : 'is'} younger than the ${count(reason.minimumAgeDays, 'day')} that the policy asks for.`;
    case 'pinned-elsewhere':
      return `${subject} ${plural ? 'are' : 'is'} ruled out by the pin of ${name} to ${reason.pin}.`;
    case 'platform':
      return reason.offered === null
        ? `${subject} ${plural ? 'ask' : 'asks'} for ${reason.name} ${reason.asks}, which the workspace's platform does not offer.`
        : `${subject} ${plural ? 'ask' : 'asks'} for ${reason.name} ${reason.asks}; the workspace's platform offers ${reason.offered}.`;
    case 'need-unanswered':
      return `${subject} ${plural ? 'need' : 'needs'} ${reason.name} ${reason.range}, which nothing answers.`;
    default:
      return unreachable(reason);
  }
}

function listVersions(releases: readonly Release[]): string {
  const texts = releases.map(({ text }) => text);
  if (texts.length <= 3) return texts.join(', ');
  return `${texts[0]} to ${texts.at(-1)} (${texts.length} releases)`;
}

function count(n: number, noun: string): string {
  return `${n} ${noun}${n === 1 ? '' : 's'}`;
}
