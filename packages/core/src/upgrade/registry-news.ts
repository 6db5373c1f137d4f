import type { DraftBase } from '../draft/index.js';
import type { AnsweredRequirement, Resolution } from '../resolve/index.js';

/** A release of a package in use that came lately. */
export interface NewRelease {
  readonly name: string;
  readonly version: string;
  /** YYYY-MM-DD */
  readonly published: string;
}

/** A copy whose release its registry no longer stands by. */
export interface LeftRelease {
  readonly name: string;
  readonly version: string;
  readonly why: 'withdrawn' | 'deprecated';
  /** What the registry says in place of it. */
  readonly says: string | null;
  /** Folders of projects that are answered by it. */
  readonly projects: readonly string[];
  /** Copies that are answered by it, by name and version. */
  readonly copies: readonly string[];
}

/** What registries have done lately with what is in use. */
export interface RegistryNews {
  /** The newest first. */
  readonly published: readonly NewRelease[];
  /** Sorted by name. */
  readonly left: readonly LeftRelease[];
}

const DAY_MS = 86_400_000;

/**
 * @param days back from today that count as lately
 * O(copies + releases of their packages + requirements).
 */
export function registryNews(
  { lock, records, today }: Pick<DraftBase, 'lock' | 'records' | 'today'>,
  days: number,
): RegistryNews {
  const resolution = lock?.resolution ?? null;
  if (resolution === null) return { published: [], left: [] };
  const since = new Date(Date.parse(today) - days * DAY_MS).toISOString().slice(0, 10);
  const published = [...new Set(resolution.copies.map(({ name }) => name))].flatMap((name) =>
    (records.get(name)?.releases ?? []).flatMap(({ text: version, published, isWithdrawn }) => {
      const day = published.slice(0, 10);
      return day >= since && day <= today && !isWithdrawn
        ? [{ name, version, published: day }]
        : [];
    }),
  );
  const left = resolution.copies.flatMap(({ name, version }): LeftRelease[] => {
    const release = records.get(name)?.releases.find(({ text }) => text === version);
    if (release === undefined || (!release.isWithdrawn && release.deprecated === null)) return [];
    const why = release.isWithdrawn ? 'withdrawn' : 'deprecated';
    return [
      { name, version, why, says: release.deprecated, ...answeredBy(resolution, name, version) },
    ];
  });
  return {
    published: published.sort((a, b) => (a.published > b.published ? -1 : 1)),
    left: left.sort((a, b) => (a.name < b.name ? -1 : 1)),
  };
}

function answeredBy(
  { projects, copies }: Resolution,
  name: string,
  version: string,
): Pick<LeftRelease, 'projects' | 'copies'> {
  const isIt = (one: AnsweredRequirement): boolean =>
    one.name === name && one.answer.kind === 'copy' && one.answer.version === version;
  return {
    projects: projects.flatMap((one) => (one.requirements.some(isIt) ? [one.folder] : [])),
    copies: copies.flatMap((one) =>
      one.requirements.some(isIt) ? [`${one.name} ${one.version}`] : [],
    ),
  };
}
