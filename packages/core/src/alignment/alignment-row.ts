import { ReleaseTerms, releaseTermsOf, type Resolution } from '../resolve/index.js';
import { behindNewest, type Behind } from './releases-ahead.js';
import type { PackageRecord, PackageRecords, Release } from '../registry/index.js';
import type { RequirementKind } from '../manifest/index.js';
import { isPrerelease, isSameRange, rangeContains, type Range } from '../version/index.js';
import { standingOf, type Requirement, type Standing, type Workspace } from '../workspace/index.js';

/** A version in use. */
export interface RailMark {
  readonly version: string;
  /** How many requirements of projects stand here in line or by an exception, and how many out of line; none: only copies ask for it. */
  readonly inLine: number;
  readonly off: number;
}

/** One project's requirement on the row's package. */
export interface AlignmentCell {
  /** Folder. */
  readonly project: string;
  readonly kind: RequirementKind;
  /** The version that the lockfile answers; null: none. */
  readonly copy: string | null;
  readonly standing: Standing['kind'];
  readonly isOff: boolean;
}

/** How far one range reaches along the rail. */
export interface RailReach {
  readonly range: string;
  /** Index of the first and last release on the rail that it admits; null: none. */
  readonly span: readonly [first: number, last: number] | null;
  readonly requirements: number;
  readonly isOff: boolean;
}

export type RailReleaseState = 'plain' | 'deprecated' | 'withdrawn' | 'prerelease';

export interface RailRelease {
  readonly version: string;
  readonly state: RailReleaseState;
}

/** One package as it stands in the workspace. */
export interface AlignmentRow {
  readonly name: string;
  readonly summary: string;
  readonly set: string | null;
  readonly agreed: string | null;
  readonly pin: string | null;
  /** Ascending. Prereleases and withdrawn releases only where they are in use. */
  readonly releases: readonly RailRelease[];
  readonly newest: string | null;
  readonly marks: readonly RailMark[];
  readonly reaches: readonly RailReach[];
  /** Projects that require it. */
  readonly usedBy: number;
  /** Projects out of line; with nothing agreed, all of them as soon as two ranges differ. */
  readonly off: number;
  readonly copies: number;
  readonly exceptions: number;
  /** Null: nothing is in use, or the newest alone. */
  readonly behind: Behind | null;
  readonly cells: readonly AlignmentCell[];
}

/** A project's requirement beside its answer. */
export interface StandingRequirement {
  readonly requirement: Requirement;
  readonly range: Range;
  readonly text: string;
  readonly standing: Standing;
  readonly isOff: boolean;
  readonly answer: string | null;
}

/** The requirements on packages, by package. */
export function requirementsByPackage(
  workspace: Workspace,
): ReadonlyMap<string, readonly Requirement[]> {
  const byPackage = new Map<string, Requirement[]>();
  for (const { requirements } of workspace.projects) {
    for (const requirement of requirements) {
      if (requirement.meaning.kind !== 'range') continue;
      const list = byPackage.get(requirement.name);
      if (list === undefined) byPackage.set(requirement.name, [requirement]);
      else list.push(requirement);
    }
  }
  return byPackage;
}

/** The requirements on one package. O(requirements). */
export function requirementsOn(
  { projects }: Pick<Workspace, 'projects'>,
  name: string,
): readonly Requirement[] {
  return projects.flatMap(({ requirements }) =>
    requirements.filter((one) => one.name === name && one.meaning.kind === 'range'),
  );
}

/** Answers of the lockfile to the requirements of projects. */
export class AnswerIndex {
  private readonly answers = new Map<string, string>();
  private readonly copies = new Map<string, string[]>();

  /** @param only the one package that will be asked for; without it all */
  constructor(resolution: Resolution | null, only?: string) {
    for (const { folder, requirements } of resolution?.projects ?? []) {
      for (const { kind, name, answer } of requirements) {
        if (only !== undefined && name !== only) continue;
        if (answer.kind === 'copy') this.answers.set(`${folder} ${kind} ${name}`, answer.version);
      }
    }
    for (const { name, version } of resolution?.copies ?? []) {
      if (only !== undefined && name !== only) continue;
      const same = this.copies.get(name);
      if (same === undefined) this.copies.set(name, [version]);
      else same.push(version);
    }
  }

  of({ project, kind, name }: Requirement): string | null {
    return this.answers.get(`${project} ${kind} ${name}`) ?? null;
  }

  /** Versions in the lockfile, ascending. */
  copiesOf(name: string): readonly string[] {
    return this.copies.get(name) ?? [];
  }

  /** Names of all packages that have copies. */
  get names(): IterableIterator<string> {
    return this.copies.keys();
  }
}

/** @param today YYYY-MM-DD */
export function standRequirements(
  workspace: Workspace,
  requirements: readonly Requirement[],
  answers: AnswerIndex,
  today: string,
): readonly StandingRequirement[] {
  const meant = requirements.flatMap((requirement) => {
    const { meaning } = requirement;
    return meaning.kind === 'range'
      ? [{ requirement, range: meaning.range, text: meaning.text }]
      : [];
  });
  const isScattered = meant.some(({ range }) => !isSameRange(range, meant[0]!.range));
  return meant.map(({ requirement, range, text }) => {
    const standing = standingOf(workspace, requirement, today);
    const isOff = standing.kind === 'off' || (standing.kind === 'nothing-agreed' && isScattered);
    return { requirement, range, text, standing, isOff, answer: answers.of(requirement) };
  });
}

/** The row of one package. */
export function alignmentRow(
  workspace: Workspace,
  name: string,
  record: PackageRecord | null,
  standing: readonly StandingRequirement[],
  answers: AnswerIndex,
  terms: ReleaseTerms,
): AlignmentRow {
  const agreement = workspace.agreements.get(name);
  const copies = answers.copiesOf(name);
  const used = new Set([...copies, ...standing.flatMap(({ answer }) => answer ?? [])]);
  const shown = (record?.releases ?? []).filter(
    (release) => used.has(release.text) || (!release.isWithdrawn && !isPrerelease(release.version)),
  );
  const newest = shown.findLast(
    (release) => !release.isWithdrawn && !isPrerelease(release.version),
  );
  const lowest = shown.find(({ text }) => used.has(text));
  const projects = (list: readonly StandingRequirement[]): number =>
    new Set(list.map(({ requirement }) => requirement.project)).size;
  return {
    name,
    summary: record?.summary ?? '',
    set: agreement?.set ?? null,
    agreed: agreement?.text ?? null,
    pin: workspace.shared.pins.get(name)?.text ?? null,
    releases: shown.map((release) => ({
      version: release.text,
      state: stateOf(release),
    })),
    newest: newest?.text ?? null,
    marks: marksOf(shown, standing, used),
    reaches: reachesOf(shown, standing),
    usedBy: projects(standing),
    off: projects(standing.filter(({ isOff }) => isOff)),
    copies: copies.length,
    exceptions: projects(standing.filter((one) => one.standing.kind === 'excepted')),
    behind: lowest === undefined ? null : behindNewest(record, lowest.text, terms),
    cells: standing.map(
      ({ requirement: { project, kind }, answer, standing: { kind: stands }, isOff }) => ({
        project,
        kind,
        copy: answer,
        standing: stands,
        isOff,
      }),
    ),
  };
}

/**
 * Rows of all packages that a project requires or that have a copy, most off first, then most copies, then by name.
 * Rows of packages that only copies ask for have no cells.
 */
export function alignmentRows(
  workspace: Workspace,
  records: PackageRecords,
  resolution: Resolution | null,
  today: string,
): readonly AlignmentRow[] {
  const answers = new AnswerIndex(resolution);
  const terms = new ReleaseTerms(releaseTermsOf(workspace), today);
  const required = requirementsByPackage(workspace);
  return [...new Set([...required.keys(), ...answers.names])]
    .map((name) => {
      const standing = standRequirements(workspace, required.get(name) ?? [], answers, today);
      return alignmentRow(workspace, name, records.get(name) ?? null, standing, answers, terms);
    })
    .sort((a, b) => b.off - a.off || b.copies - a.copies || (a.name < b.name ? -1 : 1));
}

/** Does the row speak of a package that two or more projects require? */
export function isShared({ usedBy }: AlignmentRow): boolean {
  return usedBy >= 2;
}

function stateOf(release: Release): RailReleaseState {
  if (release.isWithdrawn) return 'withdrawn';
  if (isPrerelease(release.version)) return 'prerelease';
  return release.deprecated === null ? 'plain' : 'deprecated';
}

function marksOf(
  shown: readonly Release[],
  standing: readonly StandingRequirement[],
  used: ReadonlySet<string>,
): readonly RailMark[] {
  return shown.flatMap(({ text }) => {
    if (!used.has(text)) return [];
    const here = standing.filter(({ answer }) => answer === text);
    const off = here.filter(({ isOff }) => isOff).length;
    return [{ version: text, inLine: here.length - off, off }];
  });
}

function reachesOf(
  shown: readonly Release[],
  standing: readonly StandingRequirement[],
): readonly RailReach[] {
  const byText = new Map<string, StandingRequirement[]>();
  for (const one of standing) byText.set(one.text, [...(byText.get(one.text) ?? []), one]);
  return [...byText]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([range, list]) => ({
      range,
      span: spanOf(shown, list[0]!.range),
      requirements: list.length,
      isOff: list.some(({ isOff }) => isOff),
    }));
}

/** First and last of the releases that a range admits, by index; null: none. */
export function spanOf(
  releases: readonly Release[],
  range: Range,
): readonly [number, number] | null {
  const first = releases.findIndex(({ version }) => rangeContains(range, version));
  if (first < 0) return null;
  return [first, releases.findLastIndex(({ version }) => rangeContains(range, version))];
}
