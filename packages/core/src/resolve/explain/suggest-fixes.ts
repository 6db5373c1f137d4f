import { type CopiesPolicy, policyOf, rangeFor } from '../../manifest/index.js';
import type { Release } from '../../registry/index.js';
import {
  compareVersions,
  intersectRanges,
  isEmptyRange,
  isPrerelease,
  printVersion,
  rangeContains,
  requireRange,
  requireVersion,
} from '../../version/index.js';
import type { Requirement, Workspace } from '../../workspace/index.js';
import type { Watch } from '../choose/settlement.js';
import type { Engine, Question } from '../engine.js';
import { partOf } from '../policy/answer-under-policy.js';
import { changesWords } from './change-words.js';
import { changedWorkspace, type Change } from './changed-workspace.js';
import type { Unanswered } from './explain-unanswered.js';
import { rangeText } from './requirement-words.js';

/** Changes that together give an answer where there was none. */
export interface SuggestedFix {
  readonly changes: readonly Change[];
  /** The changes in words, with the places of ranges. */
  readonly sentence: string;
}

export interface SuggestedFixes {
  /** For each cause what clears it, the other causes aside; none after the first few causes. */
  readonly ofCause: readonly (readonly SuggestedFix[])[];
  /** Where there are several causes: one fix of each, tried together. Null where no such step was found. */
  readonly together: SuggestedFix | null;
}

const MOST_CAUSES = 8;
const MOST_PAIRS = 30;
const MOST_RELEASES = 12;
const MOST_TOGETHER = 12;

/**
 * The smallest changes that would clear each explained cause: one change where one is enough, else two. A change
 * names only what the explanation names: its requirements' ranges, and the settings that it cites. Each was
 * resolved with, the other causes left out, so it is known to help.
 * @returns for each cause its fixes, in the order: ranges, copies, peers, platform, pins, ages
 * Cost: a resolution for each change that is tried; an engine makes those of ranges cheap. `watch` can stop it.
 */
export function suggestFixes(
  engine: Engine,
  question: Question,
  causes: readonly Unanswered[],
  watch: Watch = () => undefined,
): SuggestedFixes {
  const searches = causes.map(
    (cause) =>
      new FixSearch(
        engine,
        { ...question, workspace: aside(question, causes, cause) },
        cause,
        watch,
      ),
  );
  const ofCause = searches.map((search, i) => (i < MOST_CAUSES ? search.find() : []));
  return {
    ofCause,
    together: causes.length < 2 ? null : together(engine, question, ofCause, watch),
  };
}

/** The workspace with one cause alone: of each other, a requirement is left out that is not of this one. */
function aside(
  { workspace }: Question,
  causes: readonly Unanswered[],
  cause: Unanswered,
): Workspace {
  const own = new Set(cause.requirements);
  const dropped = new Set(
    causes
      .filter((other) => other !== cause)
      .flatMap(({ groups }) => groups.find((group) => !group.some((one) => own.has(one))) ?? []),
  );
  return partOf(workspace, (one) => !dropped.has(one));
}

function together(
  engine: Engine,
  question: Question,
  ofCause: SuggestedFixes['ofCause'],
  watch: Watch,
): SuggestedFix | null {
  if (ofCause.some((fixes) => fixes.length === 0)) return null;
  for (const fixes of firstCombinations(ofCause)) {
    const changes = distinct(fixes.flatMap((one) => one.changes));
    const workspace = changedWorkspace(question.workspace, changes);
    if (engine.resolve({ ...question, workspace }, watch).kind === 'answered')
      return { changes, sentence: changesWords(changes) };
  }
  return null;
}

/** Combinations of one from each list, up to a limit; first those nearest to the first of each. */
function firstCombinations<T>(lists: readonly (readonly T[])[]): readonly (readonly T[])[] {
  let picked: { readonly items: readonly T[]; readonly rank: number }[] = [{ items: [], rank: 0 }];
  for (const list of lists)
    picked = picked
      .flatMap(({ items, rank }) =>
        list.map((one, i) => ({ items: [...items, one], rank: rank + i })),
      )
      .sort((a, b) => a.rank - b.rank)
      .slice(0, MOST_TOGETHER);
  return picked.map(({ items }) => items);
}

/** One requirement may stand in several causes: of two changes to its range the first stays. */
function distinct(changes: readonly Change[]): readonly Change[] {
  const seen = new Set<string>();
  const touched = new Set<Requirement>();
  return changes.filter((change) => {
    if (change.kind === 'range') {
      if (change.requirements.some((one) => touched.has(one))) return false;
      for (const one of change.requirements) touched.add(one);
      return true;
    }
    const key = JSON.stringify(change);
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}

class FixSearch {
  constructor(
    private readonly engine: Engine,
    private readonly question: Question,
    private readonly cause: Unanswered,
    private readonly watch: Watch,
  ) {}

  find(): readonly SuggestedFix[] {
    const ranges = this.cause.groups.flatMap((group) => this.nearestRange(group) ?? []);
    const settings = this.settings();
    const singles = [...ranges, ...this.smallest(settings)];
    if (singles.length > 0) return told(singles.map((change) => [change]));
    const wide = this.cause.groups.flatMap((group) => this.rangeChange(group, '*') ?? []);
    const all = [...wide, ...settings];
    const pairs = all
      .flatMap((a, i) => all.slice(i + 1).map((b) => [a, b] as const))
      .filter(([a, b]) => !isSameSetting(a, b))
      .slice(0, MOST_PAIRS)
      .filter((changes) => this.opens(changes));
    return told(pairs.map((changes) => this.narrowed(changes)));
  }

  private opens(changes: readonly Change[]): boolean {
    const workspace = changedWorkspace(this.question.workspace, changes);
    return this.engine.resolve({ ...this.question, workspace }, this.watch).kind === 'answered';
  }

  /** The settings that open it by themselves; of several values for one setting, the smallest step. */
  private smallest(settings: readonly Change[]): readonly Change[] {
    const done: Change[] = [];
    const kept: Change[] = [];
    for (const change of settings) {
      const isBigger = change.kind === 'platform' && done.some((one) => isSameSetting(one, change));
      if (isBigger || !this.opens([change])) continue;
      done.push(change);
      kept.push(change);
    }
    return kept;
  }

  /** The change of a range that reaches the nearest release with which there is an answer; null: none does. */
  private nearestRange(group: readonly Requirement[]): Change | null {
    const texts = this.reachable(group);
    for (const text of texts.slice(0, MOST_RELEASES)) {
      const change = this.rangeChange(group, text);
      if (change !== null && this.opens([change])) return change;
    }
    if (texts.length <= MOST_RELEASES) return null;
    const wide = this.rangeChange(group, '*');
    if (wide === null || !this.opens([wide])) return null;
    const [narrow] = this.narrowed([wide]);
    return narrow!;
  }

  /** Ranges of the same manner that begin at releases outside the range, the nearest release first. */
  private reachable([first]: readonly Requirement[]): readonly string[] {
    const { name, meaning } = first!;
    if (meaning.kind !== 'range') return [];
    const releases = this.engine.records.get(name)?.releases ?? [];
    const inside = releases.flatMap(({ version }, i) =>
      rangeContains(meaning.range, version) ? [i] : [],
    );
    const [low, high] =
      inside.length > 0 ? [inside[0]!, inside.at(-1)!] : this.between(releases, first!);
    const distance = (i: number): number => Math.max(low - i, i - high, 0);
    return releases
      .map((release, i) => ({ release, i }))
      .filter(({ i, release }) => !inside.includes(i) && !release.isWithdrawn)
      .sort(
        (a, b) =>
          Number(isPrerelease(a.release.version)) - Number(isPrerelease(b.release.version)) ||
          distance(a.i) - distance(b.i) ||
          b.i - a.i,
      )
      .map(({ release }) => `${mannerOf(rangeText(first!))}${release.text}`);
  }

  /** Where among the releases a range lies that admits none: between these two. */
  private between(
    releases: readonly Release[],
    { meaning }: Requirement,
  ): readonly [number, number] {
    const start = meaning.kind === 'range' ? meaning.range.releases[0]?.from : undefined;
    const above =
      start === undefined
        ? releases.length
        : releases.filter(({ version }) => compareVersions(version, start) < 0).length;
    return [above, above - 1];
  }

  /** Null where the requirements say so already. */
  private rangeChange(requirements: readonly Requirement[], to: string): Change | null {
    const [first] = requirements;
    const { name, meaning } = first!;
    if (meaning.kind !== 'range' || rangeText(first!) === to) return null;
    const range = rangeFor(this.question.workspace.policy, name, to);
    const isElsewhere = isEmptyRange(intersectRanges(range, meaning.range));
    return { kind: 'range', requirements, from: rangeText(first!), to, isElsewhere };
  }

  /** Changes that open it together with the wide ranges among them made as narrow as their answers allow. */
  private narrowed(changes: readonly Change[]): readonly Change[] {
    let now = changes;
    for (const change of changes) {
      if (change.kind !== 'range') continue;
      const version = this.answerUnder(now, change.requirements[0]!);
      if (version === null) continue;
      const narrow = this.rangeChange(change.requirements, `${mannerOf(change.from)}${version}`);
      if (narrow === null) continue;
      const tried = now.map((one) => (one === change ? narrow : one));
      if (this.opens(tried)) now = tried;
    }
    return now;
  }

  private answerUnder(changes: readonly Change[], requirement: Requirement): string | null {
    const workspace = changedWorkspace(this.question.workspace, changes);
    const outcome = this.engine.resolve({ ...this.question, workspace }, this.watch);
    if (outcome.kind !== 'answered') return null;
    const project = outcome.resolution.projects.find(
      ({ folder }) => folder === requirement.project,
    );
    const answered = project?.requirements.find(
      ({ kind, name }) => kind === requirement.kind && name === requirement.name,
    );
    return answered?.answer.kind === 'copy' ? answered.answer.version : null;
  }

  /** Changes of the settings that the explanation names, smaller steps before larger ones. */
  private settings(): readonly Change[] {
    const { workspace } = this.question;
    const { cites } = this.cause;
    const copies = cites.copies.flatMap((name): Change[] => {
      const from = policyOf(workspace.policy, name).copies;
      return WIDER[from].map((to) => ({ kind: 'copies', name, from, to }));
    });
    const pins = cites.pins.flatMap((name): Change[] => {
      const from = workspace.shared.pins.get(name)?.text;
      return from === undefined ? [] : [{ kind: 'pin', name, from }];
    });
    const ages = cites.ages.flatMap((name): Change[] => {
      const from = policyOf(workspace.policy, name).minimumAgeDays;
      return from === 0 ? [] : [{ kind: 'minimum-age', name, from }];
    });
    const peers: readonly Change[] = cites.peers ? [{ kind: 'peers' }] : [];
    return [...copies, ...peers, ...this.platforms(), ...pins, ...ages];
  }

  /** For each thing that releases ask of the platform and do not get, the versions that would do, lowest first. */
  private platforms(): readonly Change[] {
    const { platform } = this.question.workspace;
    const wanted = new Map<string, Set<string>>();
    for (const { package: name, name: asked } of this.cause.cites.platforms) {
      const offered = platform.get(asked);
      for (const release of this.engine.records.get(name)?.releases ?? []) {
        for (const [of, text] of release.platform) {
          if (of !== asked) continue;
          const range = requireRange(text, 'always');
          if (offered !== undefined && rangeContains(range, offered)) continue;
          const lowest = range.releases
            .map(({ from }) => from)
            .find((from) => offered === undefined || compareVersions(from, offered) > 0);
          if (lowest === undefined) continue;
          wanted.set(asked, (wanted.get(asked) ?? new Set()).add(printVersion(lowest)));
        }
      }
    }
    return [...wanted].sort().flatMap(([name, versions]) => {
      const offered = platform.get(name);
      const from = offered === undefined ? null : printVersion(offered);
      return [...versions]
        .sort((a, b) => compareVersions(requireVersion(a), requireVersion(b)))
        .map((to): Change => ({ kind: 'platform', name, from, to }));
    });
  }
}

const WIDER: Readonly<Record<CopiesPolicy, readonly CopiesPolicy[]>> = {
  any: [],
  'one-per-major': ['any'],
  one: ['one-per-major', 'any'],
};

/** How a range is written, for another of the same manner: exact, `~` or, as most are, `^`. */
function mannerOf(text: string): string {
  if (/^=?\d+\.\d+\.\d+\S*$/.test(text.trim())) return '';
  return text.trim().startsWith('~') ? '~' : '^';
}

function isSameSetting(a: Change, b: Change): boolean {
  return a.kind === b.kind && 'name' in a && 'name' in b && a.name === b.name;
}

function told(all: readonly (readonly Change[])[]): readonly SuggestedFix[] {
  const seen = new Set<string>();
  return all.flatMap((changes) => {
    const sentence = changesWords(changes);
    if (seen.has(sentence)) return [];
    seen.add(sentence);
    return [{ changes, sentence }];
  });
}
