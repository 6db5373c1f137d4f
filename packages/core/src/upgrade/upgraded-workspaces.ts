import { requirementsByPackage } from '../alignment/index.js';
import { levelling } from '../draft/index.js';
import { upgradeStep, type Move } from '../edit/index.js';
import { rangeFor } from '../manifest/index.js';
import {
  SHARED_FILE,
  type Agreement,
  type Project,
  type Requirement,
  type Workspace,
} from '../workspace/index.js';

/** A workspace after moves, and the hand-written files that they change. */
export interface Upgraded {
  readonly workspace: Workspace;
  readonly files: ReadonlySet<string>;
}

/** What one move changes. */
interface Change {
  readonly agreements: ReadonlyMap<string, Agreement>;
  readonly files: ReadonlySet<string>;
  /** Of the projects that it touches, by their index. */
  readonly projects: ReadonlyMap<number, (project: Project) => Project>;
}

/**
 * A workspace as it would be read after the edits that make moves, made from the model instead of the files. As with the edits,
 * what has to be written is told by the workspace before any of the moves. A project that the same moves touch as the time before is
 * the same object, so that whoever answers one after the other has little to do.
 */
export class UpgradedWorkspaces {
  private readonly changes = new Map<string, Change>();
  /** By index: what each project was made by last, and came to. */
  private readonly made: (
    | { readonly by: readonly Change[]; readonly project: Project }
    | undefined
  )[] = [];

  private readonly requirements: ReturnType<typeof requirementsByPackage>;

  constructor(private readonly start: Workspace) {
    this.requirements = requirementsByPackage(start);
  }

  /** O(projects + agreements + requirements of the projects that other moves touch than the time before). */
  after(moves: readonly Move[]): Upgraded {
    const changes = moves.map((move) => this.changeOf(move));
    const agreements = new Map(this.start.agreements);
    const files = new Set<string>();
    const touching = new Map<number, Change[]>();
    for (const change of changes) {
      for (const [name, agreement] of change.agreements) agreements.set(name, agreement);
      for (const file of change.files) files.add(file);
      for (const index of change.projects.keys()) {
        const list = touching.get(index);
        if (list === undefined) touching.set(index, [change]);
        else list.push(change);
      }
    }
    const projects = [...this.start.projects];
    for (const [index, by] of touching) projects[index] = this.project(index, by);
    return { workspace: { ...this.start, agreements, projects }, files };
  }

  private project(index: number, by: readonly Change[]): Project {
    const last = this.made[index];
    if (last?.by.length === by.length && last.by.every((one, i) => one === by[i]))
      return last.project;
    const project = by.reduce(
      (made, { projects }) => projects.get(index)!(made),
      this.start.projects[index]!,
    );
    this.made[index] = { by, project };
    return project;
  }

  /** O(projects + requirements on what it moves), once for each move. */
  private changeOf(move: Move): Change {
    const key = JSON.stringify([move.package, move.from, move.to]);
    const known = this.changes.get(key);
    if (known !== undefined) return known;
    const change = this.find(move);
    this.changes.set(key, change);
    return change;
  }

  private find(move: Move): Change {
    const { start } = this;
    const { package: name } = move;
    const { shared, own } = upgradeStep(start, move, this.requirements.get(name) ?? []);
    const files = new Set(own.map(([{ file }]) => file));
    const level = shared === null ? null : levelling(start, name, { range: shared, takers: [] });
    if (level !== null) for (const file of sharedFiles(start, name)) files.add(file);
    const ownOf = new Map<string, (readonly [Requirement, string])[]>();
    for (const one of own) ownOf.set(one[0].project, [...(ownOf.get(one[0].project) ?? []), one]);
    const projects = new Map<number, (project: Project) => Project>();
    start.projects.forEach((project, index) => {
      const ranges = ownOf.get(project.folder) ?? [];
      const isLevelled = level !== null && level.project(project) !== project;
      if (ranges.length === 0 && !isLevelled) return;
      projects.set(index, (before) =>
        ranges.reduce(
          (made, [requirement, text]) => this.withRange(made, requirement, text),
          level === null ? before : level.project(before),
        ),
      );
    });
    return { agreements: level?.agreements ?? new Map(), files, projects };
  }

  private withRange(project: Project, old: Requirement, text: string): Project {
    const change = (one: Requirement): Requirement =>
      one.kind !== old.kind || one.name !== old.name || one.isEverywhere
        ? one
        : {
            ...one,
            written: text,
            meaning: {
              kind: 'range',
              text,
              range: rangeFor(this.start.policy, one.name, text),
            },
          };
    return { ...project, requirements: project.requirements.map(change) };
  }
}

/** The file that agrees on a package, and those that have no word for the shared version and so repeat its range. */
function sharedFiles({ shared, projects }: Workspace, name: string): readonly string[] {
  const repeating = projects.flatMap(({ foreign, requirements }) =>
    foreign.some(({ shape }) => shape.spelling.shared === null)
      ? requirements.filter((one) => one.name === name && one.written === 'shared')
      : [],
  );
  return [shared.shared.get(name)?.file ?? SHARED_FILE, ...repeating.map(({ file }) => file)];
}
