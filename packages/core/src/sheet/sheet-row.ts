import type { Resolution } from '../resolve/index.js';
import type { PackageRecord, PackageRecords, Release } from '../registry/index.js';
import { isPrerelease, isSameRange, rangeContains, type Range } from '../version/index.js';
import { standingOf, type Requirement, type Standing, type Workspace } from '../workspace/index.js';

/** Requirements whose answer is one version. */
export interface RailMark {
  readonly version: string;
  /** How many requirements stand here in line or by an exception, and how many out of line. */
  readonly inLine: number;
  readonly off: number;
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
  readonly published: string;
  readonly state: RailReleaseState;
}

/** One package as it stands in the workspace. */
export interface SheetRow {
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

/** Answers of the lockfile to the requirements of projects. */
export class AnswerIndex {
  private readonly answers = new Map<string, string>();
  private readonly copies = new Map<string, number>();

  constructor(resolution: Resolution | null) {
    for (const { folder, requirements } of resolution?.projects ?? []) {
      for (const { kind, name, answer } of requirements) {
        if (answer.kind === 'copy') this.answers.set(`${folder} ${kind} ${name}`, answer.version);
      }
    }
    for (const { name } of resolution?.copies ?? [])
      this.copies.set(name, (this.copies.get(name) ?? 0) + 1);
  }

  of({ project, kind, name }: Requirement): string | null {
    return this.answers.get(`${project} ${kind} ${name}`) ?? null;
  }

  copiesOf(name: string): number {
    return this.copies.get(name) ?? 0;
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
export function sheetRow(
  workspace: Workspace,
  name: string,
  record: PackageRecord | null,
  standing: readonly StandingRequirement[],
  answers: AnswerIndex,
): SheetRow {
  const agreement = workspace.agreements.get(name);
  const used = new Set(standing.flatMap(({ answer }) => answer ?? []));
  const shown = (record?.releases ?? []).filter(
    (release) => used.has(release.text) || (!release.isWithdrawn && !isPrerelease(release.version)),
  );
  const newest = shown.findLast(
    (release) => !release.isWithdrawn && !isPrerelease(release.version),
  );
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
      published: release.published,
      state: stateOf(release),
    })),
    newest: newest?.text ?? null,
    marks: marksOf(shown, standing),
    reaches: reachesOf(shown, standing),
    usedBy: projects(standing),
    off: projects(standing.filter(({ isOff }) => isOff)),
    copies: answers.copiesOf(name),
    exceptions: projects(standing.filter((one) => one.standing.kind === 'excepted')),
  };
}

/** Rows of all packages that at least two projects require, most off first, then most copies, then by name. */
export function sheetRows(
  workspace: Workspace,
  records: PackageRecords,
  resolution: Resolution | null,
  today: string,
): readonly SheetRow[] {
  const answers = new AnswerIndex(resolution);
  return [...requirementsByPackage(workspace)]
    .map(([name, requirements]) => {
      const standing = standRequirements(workspace, requirements, answers, today);
      return sheetRow(workspace, name, records.get(name) ?? null, standing, answers);
    })
    .filter(({ usedBy }) => usedBy >= 2)
    .sort((a, b) => b.off - a.off || b.copies - a.copies || (a.name < b.name ? -1 : 1));
}

function stateOf(release: Release): RailReleaseState {
  if (release.isWithdrawn) return 'withdrawn';
  if (isPrerelease(release.version)) return 'prerelease';
  return release.deprecated === null ? 'plain' : 'deprecated';
}

function marksOf(
  shown: readonly Release[],
  standing: readonly StandingRequirement[],
): readonly RailMark[] {
  return shown.flatMap(({ text }) => {
    const here = standing.filter(({ answer }) => answer === text);
    const off = here.filter(({ isOff }) => isOff).length;
    return here.length === 0 ? [] : [{ version: text, inLine: here.length - off, off }];
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
