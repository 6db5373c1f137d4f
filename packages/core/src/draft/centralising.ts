import { rangeFor } from '../manifest/index.js';
import type { RequirementKind } from '../manifest/index.js';
import type { PackageRecord } from '../registry/index.js';
import type { Resolution } from '../resolve/index.js';
import {
  AnswerIndex,
  requirementsByPackage,
  standRequirements,
  type StandingRequirement,
} from '../alignment/index.js';
import {
  compareVersions,
  isPrerelease,
  isSameRange,
  type Range,
  rangeContains,
  requireVersion,
  versionStep,
  type VersionStep,
} from '../version/index.js';
import type { DraftBase } from './draft-base.js';
import type { Edit } from '../edit/index.js';
import { suggestSets, type SetSuggestion } from './suggest-sets.js';

/** A requirement that would ask for another range than it does. */
export interface CentralisingMove {
  /** Folder. */
  readonly project: string;
  readonly kind: RequirementKind;
  readonly range: string;
  /** The copy that answers it. */
  readonly from: string | null;
  /**
   * The version that would answer it: the newest that others hold on to, else the newest there is. Only resolving is
   * exact.
   */
  readonly to: string | null;
  readonly step: VersionStep;
}

/** One range that a package could be agreed on at. */
export interface CentralisingChoice {
  readonly range: string;
  /** Folders of projects that write just this. */
  readonly takes: readonly string[];
  readonly moves: readonly CentralisingMove[];
  /** Does every copy stay as it is? */
  readonly isStill: boolean;
}

/** A package whose version could move into the shared file. */
export interface CentralisingLine {
  readonly package: string;
  /** The lockstep set it would be in, by the suggestion's name. */
  readonly set: string | null;
  /** The range agreed on already, where projects still write their own. */
  readonly agreed: string | null;
  /** The best first: most that simply take it, then fewest that move. */
  readonly choices: readonly CentralisingChoice[];
}

export interface Centralising {
  readonly lines: readonly CentralisingLine[];
  readonly sets: readonly SetSuggestion[];
}

/**
 * What could move out of the projects' manifests into the shared file: every package for which two or more
 * projects, or one beside an agreement, write a range of their own. For each the ranges that they write, as choices.
 * O(requirements + releases of those packages).
 */
export function proposeCentralising(base: DraftBase): Centralising {
  const { workspace, records, lock, today } = base;
  if (workspace === null) return { lines: [], sets: [] };
  const answers = new AnswerIndex(lock?.resolution ?? null);
  const heldByCopies = answersToCopies(lock?.resolution ?? null);
  const lines = [...requirementsByPackage(workspace)]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .flatMap(([name, requirements]): Omit<CentralisingLine, 'set'>[] => {
      const agreed = workspace.agreements.get(name)?.text ?? null;
      const own = standRequirements(workspace, requirements, answers, today).filter(
        ({ requirement: { written, isEverywhere }, standing }) =>
          written !== 'shared' && !isEverywhere && standing.kind !== 'excepted',
      );
      const projects = new Set(own.map(({ requirement }) => requirement.project));
      if (projects.size < (agreed === null ? 2 : 1)) return [];
      const record = records.get(name) ?? null;
      const texts = agreed === null ? distinctRanges(own) : [agreed];
      const choices = texts
        .map((text) =>
          choice(
            own,
            rangeFor(workspace.policy, name, text),
            text,
            record,
            heldByCopies.get(name) ?? [],
          ),
        )
        .sort(better);
      return [{ package: name, agreed, choices }];
    });
  const free = lines.filter(({ agreed }) => agreed === null).map((line) => line.package);
  const sets = suggestSets(records, free);
  const setOf = new Map(
    sets.flatMap((set) => set.packages.map((name) => [name, set.name] as const)),
  );
  return {
    lines: lines.map((line) => ({ ...line, set: setOf.get(line.package) ?? null })),
    sets,
  };
}

/** One text for each range, the spelling that most use. */
function distinctRanges(own: readonly StandingRequirement[]): readonly string[] {
  const times = new Map<string, number>();
  for (const { text } of own) times.set(text, (times.get(text) ?? 0) + 1);
  const texts = [...times]
    .sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1))
    .map(([text]) => text);
  const ranges = new Map(own.map(({ text, range }) => [text, range]));
  return texts.filter(
    (text, i) =>
      !texts.slice(0, i).some((other) => isSameRange(ranges.get(other)!, ranges.get(text)!)),
  );
}

function choice(
  own: readonly StandingRequirement[],
  range: Range,
  text: string,
  record: PackageRecord | null,
  heldByCopies: readonly string[],
): CentralisingChoice {
  const [same, others] = [
    own.filter((one) => isSameRange(one.range, range)),
    own.filter((one) => !isSameRange(one.range, range)),
  ];
  const held = [...heldByCopies, ...same.flatMap(({ answer }) => answer ?? [])];
  const to = versionFor(range, record, held);
  const moves = others.map(
    ({ requirement: { project, kind }, text: written, answer }): CentralisingMove => {
      const step =
        answer === null || to === null
          ? 'none'
          : versionStep(requireVersion(answer), requireVersion(to));
      return { project, kind, range: written, from: answer, to, step };
    },
  );
  return {
    range: text,
    takes: [...new Set(same.map(({ requirement }) => requirement.project))],
    moves,
    isStill: moves.every(({ from, to }) => from !== null && from === to),
  };
}

/** For each package the versions that answer what copies ask. O(requirements of copies). */
function answersToCopies(resolution: Resolution | null): ReadonlyMap<string, readonly string[]> {
  const byName = new Map<string, string[]>();
  for (const { requirements } of resolution?.copies ?? []) {
    for (const { name, answer } of requirements) {
      if (answer.kind !== 'copy') continue;
      const there = byName.get(name);
      if (there === undefined) byName.set(name, [answer.version]);
      else if (!there.includes(answer.version)) there.push(answer.version);
    }
  }
  return byName;
}

/** What answers a new demand: the newest that is held on to and admitted, else the newest release that is. */
function versionFor(
  range: Range,
  record: PackageRecord | null,
  held: readonly string[],
): string | null {
  const kept = held.filter((text) => rangeContains(range, requireVersion(text)));
  const newestKept = kept
    .sort((a, b) => compareVersions(requireVersion(a), requireVersion(b)))
    .at(-1);
  if (newestKept !== undefined) return newestKept;
  const newest = record?.releases.findLast(
    ({ version, isWithdrawn }) =>
      !isWithdrawn && !isPrerelease(version) && rangeContains(range, version),
  );
  return newest?.text ?? null;
}

function better(a: CentralisingChoice, b: CentralisingChoice): number {
  const moving = ({ moves }: CentralisingChoice): number =>
    moves.filter(({ from, to }) => from !== to).length;
  return b.takes.length - a.takes.length || moving(a) - moving(b) || newer(a, b);
}

function newer(a: CentralisingChoice, b: CentralisingChoice): number {
  const [x, y] = [a, b].map(({ moves, range }) => moves[0]?.to ?? firstVersion(range));
  if (x === null || y === null || x === undefined || y === undefined) return 0;
  return compareVersions(requireVersion(y), requireVersion(x));
}

function firstVersion(range: string): string | null {
  return /\d+\.\d+\.\d+/.exec(range)?.[0] ?? null;
}

/** A package with the range that was chosen for it. */
export interface ChosenLine {
  readonly package: string;
  readonly range: string;
}

/** The edits that centralise chosen lines: sets first, then for each line one edit that levels its package. */
export function centralisingEdits(
  base: DraftBase,
  chosen: readonly ChosenLine[],
  sets: readonly { readonly name: string; readonly packages: readonly string[] }[],
): readonly Edit[] {
  const { lines } = proposeCentralising(base);
  const byName = new Map(lines.map((line) => [line.package, line]));
  const known = chosen.filter((line) => byName.has(line.package));
  const rangeOf = new Map(known.map((line) => [line.package, line.range]));
  const made = sets.flatMap(({ name, packages }): Edit[] => {
    const members = packages.filter((one) => rangeOf.has(one));
    const ranges = new Set(members.map((one) => rangeOf.get(one)));
    return members.length >= 2 && ranges.size === 1
      ? [{ kind: 'make-set', set: name, range: rangeOf.get(members[0]!)!, packages: members }]
      : [];
  });
  const levelled = known.map((line): Edit => {
    const [first] = byName.get(line.package)!.choices;
    const projects = new Set([...first!.takes, ...first!.moves.map(({ project }) => project)]);
    return {
      kind: 'level',
      package: line.package,
      range: line.range,
      projects: [...projects].sort(),
    };
  });
  return [...made, ...levelled];
}
