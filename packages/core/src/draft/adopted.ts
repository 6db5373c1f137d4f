import type { EarlierAnswer } from '../edit/index.js';
import { schemeOf } from '../manifest/index.js';
import type { PackageRecord, PackageRecords } from '../registry/index.js';
import { copyKey, type AnsweredRequirement, type Resolution } from '../resolve/index.js';
import {
  parseRange,
  rangeContains,
  readingOf,
  type Range,
  type VersionScheme,
} from '../version/index.js';
import { withEarlierAnswers } from './earlier-answers.js';
import type { Workspace } from '../workspace/index.js';

/** A version that was installed and that the lockfile does not have. */
export interface AdoptedChange {
  readonly name: string;
  readonly from: string;
  /** The versions that the lockfile has in its place, in order; none: nothing requires the package. */
  readonly to: readonly string[];
  /** Why, in a sentence. */
  readonly why: string;
}

/** What becomes of the versions that a first lockfile was to start from. */
export interface AdoptedOutcome {
  readonly kept: number;
  readonly changed: readonly AdoptedChange[];
}

/**
 * The installed versions that a first resolution holds on to; null: there are none. It is no lockfile by itself.
 * O(requirements of projects and of adopted releases).
 */
export function adoptedBefore(workspace: Workspace, records: PackageRecords): Resolution | null {
  return withEarlierAnswers(null, adoptedAnswers(workspace, records));
}

/**
 * The answers that installed versions give, wherever a requirement admits one of them; of several, the newest.
 * O(requirements of projects and of adopted releases).
 */
export function adoptedAnswers(
  { adopted, projects, registries }: Workspace,
  records: PackageRecords,
): readonly EarlierAnswer[] {
  const byName = releasesOf(adopted, records);
  const answer = (
    owner: string,
    isProject: boolean,
    { kind, name, range, text }: Asked,
  ): readonly EarlierAnswer[] => {
    const [best] = (byName.get(name) ?? []).filter(({ version }) => rangeContains(range, version));
    return best === undefined
      ? []
      : [{ owner, isProject, kind, name, range: text, version: best.text }];
  };
  const ofProjects = projects.flatMap(({ folder, requirements }) =>
    requirements.flatMap(({ kind, name, meaning }) =>
      meaning.kind === 'project'
        ? []
        : answer(folder, true, { kind, name, range: meaning.range, text: meaning.text }),
    ),
  );
  const ofReleases = [...byName].flatMap(([owner, releases]) =>
    releases.flatMap(({ text, needs }) =>
      needs.flatMap(({ kind, name, range }) => {
        const read = parseRange(range, readingOf(schemeOf(registries, name), 'always'));
        if (!read.ok) return [];
        const asked = { kind, name, range: read.value, text: range };
        return answer(copyKey({ name: owner, version: text }), false, asked);
      }),
    ),
  );
  return [...ofProjects, ...ofReleases];
}

interface Asked {
  readonly kind: EarlierAnswer['kind'];
  readonly name: string;
  readonly range: Range;
  readonly text: string;
}

/** The releases that are installed, newest first. */
function releasesOf(
  adopted: Workspace['adopted'],
  records: PackageRecords,
): ReadonlyMap<string, PackageRecord['releases']> {
  const wanted = new Map<string, Set<string>>();
  for (const { name, version } of adopted)
    wanted.set(name, (wanted.get(name) ?? new Set()).add(version));
  return new Map(
    [...wanted].map(([name, versions]) => [
      name,
      (records.get(name)?.releases ?? []).filter(({ text }) => versions.has(text)).reverse(),
    ]),
  );
}

/** The installed versions that a first lockfile has kept; null: there were none to start from. O(requirements). */
export function adoptedOutcome(
  { adopted, registries }: Workspace,
  records: PackageRecords,
  resolution: Resolution,
): AdoptedOutcome | null {
  if (adopted.length === 0) return null;
  const versions = new Map<string, string[]>();
  for (const { name, version } of resolution.copies)
    versions.set(name, [...(versions.get(name) ?? []), version]);
  const changed = adopted.flatMap(({ name, version: from }): AdoptedChange[] => {
    const to = versions.get(name) ?? [];
    if (to.includes(from)) return [];
    return [
      {
        name,
        from,
        to,
        why: reason(schemeOf(registries, name), name, from, to, records, resolution),
      },
    ];
  });
  return { kept: adopted.length - changed.length, changed };
}

function reason(
  scheme: VersionScheme,
  name: string,
  from: string,
  to: readonly string[],
  records: PackageRecords,
  resolution: Resolution,
): string {
  if (to.length === 0) return 'Nothing requires it.';
  const release = records.get(name)?.releases.find(({ text }) => text === from);
  if (release === undefined) return `The registry has no release ${from} of it.`;
  const refusing = requirementsOn(resolution, name).filter(({ range }) => {
    const read = parseRange(range, readingOf(scheme, 'always'));
    return read.ok && !rangeContains(read.value, release.version);
  });
  const [first, ...others] = refusing;
  if (first === undefined) return `The policy keeps ${from} out.`;
  const more = others.length === 0 ? '' : ` and ${others.length} more`;
  return `${first.owner} requires ${first.range}${more}.`;
}

function requirementsOn(
  { projects, copies }: Resolution,
  name: string,
): readonly { readonly owner: string; readonly range: string }[] {
  const of = (owner: string, all: readonly AnsweredRequirement[]) =>
    all.flatMap((one) =>
      one.name === name && one.range !== null ? [{ owner, range: one.range }] : [],
    );
  return [
    ...projects.flatMap((one) => of(one.name, one.requirements)),
    ...copies.flatMap((one) => of(copyKey(one), one.requirements)),
  ];
}
