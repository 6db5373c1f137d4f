import { policyOf, type CopiesPolicy } from '../../manifest/index.js';
import { namedPackages } from '../../registry/index.js';
import {
  compareVersions,
  isPrerelease,
  printVersion,
  rangeContains,
  requireRange,
  requireVersion,
} from '../../version/index.js';
import type { Requirement, Workspace } from '../../workspace/index.js';
import type { Engine, Question } from '../engine.js';
import { rangeText, type Unanswered } from './explain-unanswered.js';
import { relaxed, type Change } from './relaxed-workspace.js';

/** Changes that together give an answer where there was none. */
export interface Relaxation {
  readonly changes: readonly Change[];
  /** The changes in words, with the places of ranges. */
  readonly sentence: string;
}

const MOST_CAUSES = 5;
const MOST_PAIRS = 30;
const MOST_PASSED = 400;

/**
 * The smallest changes that would open each explained cause: one change where one is enough, else two.
 * Each was resolved with, the other causes left out, so it is known to help.
 * @returns for each cause its relaxations, in the order: ranges, copies, platform, pins, ages; none after the
 *   first few causes, where something more basic is wrong
 * Cost: a resolution for each change that is tried; an engine makes those of ranges cheap.
 */
export function findRelaxations(
  engine: Engine,
  question: Question,
  causes: readonly Unanswered[],
): readonly (readonly Relaxation[])[] {
  return causes.map((cause, i) => {
    if (i >= MOST_CAUSES) return [];
    const others = causes
      .filter((one) => one !== cause)
      .flatMap(({ requirements }) => requirements);
    const workspace = without(question.workspace, new Set(others));
    return new RelaxationSearch(engine, { ...question, workspace }, cause).find();
  });
}

function without(workspace: Workspace, dropped: ReadonlySet<Requirement>): Workspace {
  const projects = workspace.projects.map((project) =>
    project.requirements.some((one) => dropped.has(one))
      ? { ...project, requirements: project.requirements.filter((one) => !dropped.has(one)) }
      : project,
  );
  return { ...workspace, projects };
}

class RelaxationSearch {
  constructor(
    private readonly engine: Engine,
    private readonly question: Question,
    private readonly cause: Unanswered,
  ) {}

  find(): readonly Relaxation[] {
    const candidates = this.candidates();
    const singles = candidates.filter((change) => this.opens([change]));
    if (singles.length > 0) return singles.map((change) => told([this.narrowest(change)]));
    const pairs = candidates
      .flatMap((a, i) => candidates.slice(i + 1).map((b) => [a, b]))
      .slice(0, MOST_PAIRS);
    return pairs.filter((changes) => this.opens(changes)).map(told);
  }

  private answer(changes: readonly Change[]) {
    const workspace = relaxed(this.question.workspace, changes);
    return this.engine.resolve({ ...this.question, workspace });
  }

  private opens(changes: readonly Change[]): boolean {
    return this.answer(changes).kind === 'answered';
  }

  /** A range that still opens it and says no more than it must. */
  private narrowest(change: Change): Change {
    if (change.kind !== 'range') return change;
    const outcome = this.answer([change]);
    const [first] = change.requirements;
    if (outcome.kind !== 'answered') return change;
    const project = outcome.resolution.projects.find(({ folder }) => folder === first!.project);
    const answered = project?.requirements.find(
      ({ kind, name }) => kind === first!.kind && name === first!.name,
    );
    if (answered?.answer.kind !== 'copy') return change;
    const caret = { ...change, to: `^${answered.answer.version}` };
    return this.opens([caret]) ? caret : change;
  }

  private candidates(): readonly Change[] {
    const { workspace } = this.question;
    const passed = this.passedPackages();
    const ranges = this.cause.groups.map((requirements): Change => {
      const [first] = requirements;
      return { kind: 'range', requirements, from: rangeText(first!), to: this.widest(first!.name) };
    });
    const copies = passed.flatMap((name): Change[] => {
      if (this.cause.isAlone) return [];
      const from = policyOf(workspace.policy, name).copies;
      return WIDER[from].map((to) => ({ kind: 'copies', name, from, to }));
    });
    const pins = passed.flatMap((name): Change[] => {
      const from = workspace.shared.pins.get(name)?.text;
      return from === undefined ? [] : [{ kind: 'pin', name, from }];
    });
    const ages = passed.flatMap((name): Change[] => {
      const from = policyOf(workspace.policy, name).minimumAgeDays;
      return from === 0 ? [] : [{ kind: 'minimum-age', name, from }];
    });
    return [...ranges, ...copies, ...this.platforms(passed), ...pins, ...ages];
  }

  /** Every release; where there are prereleases alone, the newest of them. */
  private widest(name: string): string {
    const releases = this.engine.records.get(name)?.releases ?? [];
    const newest = releases.at(-1);
    const isPreAlone = releases.every(({ version }) => isPrerelease(version));
    return newest !== undefined && isPreAlone ? newest.text : '*';
  }

  /** For each thing that releases ask of the platform and do not get, the lowest versions that would do. */
  private platforms(passed: readonly string[]): readonly Change[] {
    const { platform } = this.question.workspace;
    const wanted = new Map<string, Set<string>>();
    for (const name of passed) {
      for (const release of this.engine.records.get(name)?.releases ?? []) {
        for (const [asked, text] of release.platform) {
          const range = requireRange(text, 'always');
          const offered = platform.get(asked);
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
      const ascending = [...versions].sort((a, b) =>
        compareVersions(requireVersion(a), requireVersion(b)),
      );
      const from = offered === undefined ? null : printVersion(offered);
      const changes = ascending.map((to): Change => ({ kind: 'platform', name, from, to }));
      const enough = changes.find((change) => this.opens([change]));
      return enough === undefined ? changes.slice(-1) : [enough];
    });
  }

  /** Packages that the requirements may bring in, nearest first, as far as is worth looking. */
  private passedPackages(): readonly string[] {
    const passed = new Set(this.cause.groups.map(([first]) => first!.name));
    for (const name of passed) {
      for (const release of this.engine.records.get(name)?.releases ?? [])
        for (const needed of namedPackages(release))
          if (passed.size < MOST_PASSED) passed.add(needed);
    }
    return [...passed];
  }
}

const WIDER: Readonly<Record<CopiesPolicy, readonly CopiesPolicy[]>> = {
  any: [],
  'one-per-major': ['any'],
  one: ['one-per-major', 'any'],
};

function told(changes: readonly Change[]): Relaxation {
  const [first, ...others] = changes.map(changeWords);
  const rest = others.map((words) => `, and ${words.charAt(0).toLowerCase()}${words.slice(1)}`);
  return { changes, sentence: `${first}${rest.join('')}.` };
}

function changeWords(change: Change): string {
  switch (change.kind) {
    case 'range': {
      const [first, ...others] = change.requirements;
      const { name, written, file, line } = first!;
      if (written === 'shared')
        return `Change the shared version of ${name} from ${change.from} to ${change.to}`;
      const more = others.length === 0 ? '' : ` and ${others.length} more of the same`;
      return `Change the range of ${name} in ${file}:${line}${more} from ${change.from} to ${change.to}`;
    }
    case 'copies':
      return change.to === 'any'
        ? `Allow any number of copies of ${change.name}`
        : `Allow one copy of ${change.name} for each major version`;
    case 'platform':
      return change.from === null
        ? `Offer ${change.name} ${change.to} in the platform`
        : `Raise the platform's ${change.name} from ${change.from} to ${change.to}`;
    case 'pin':
      return `Take away the pin of ${change.name} to ${change.from}`;
    case 'minimum-age':
      return `Let ${change.name} be younger than ${change.from} days`;
  }
}
