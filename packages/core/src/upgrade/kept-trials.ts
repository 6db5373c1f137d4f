import type { DraftBase } from '../draft/index.js';
import type { Move } from '../edit/index.js';
import { compareLocks } from '../lock/index.js';
import type { AnsweredRequirement, Resolution } from '../resolve/index.js';
import { ROOT_FILE, SHAPES_FILE, type Project, type Requirement } from '../workspace/index.js';
import { UpgradeTrials, type UpgradeTrial, type WatchedTrial } from './upgrade-trials.js';

/**
 * Trials that are kept over posts: after one only those are tried again that have to do with a peer, or with a package in
 * which something has changed. No other outcome depends on it, as offers that share no package are looked at apart in a
 * batch.
 */
export class KeptTrials {
  private trials: UpgradeTrials | null = null;
  private readonly known = new Map<string, WatchedTrial>();

  constructor(readonly base: DraftBase) {}

  /** How many outcomes are known. */
  get size(): number {
    return this.known.size;
  }

  /** As `UpgradeTrials.try`; a trial that was made already costs nothing. */
  try(moves: readonly Move[]): UpgradeTrial {
    const { against, price } = this.watched(moves);
    return { against, price };
  }

  /** The same, with what it has to do with. */
  watched(moves: readonly Move[]): WatchedTrial {
    const key = JSON.stringify(moves.map(({ package: name, from, to }) => [name, from, to]));
    let trial = this.known.get(key);
    if (trial === undefined) {
      this.trials ??= new UpgradeTrials(this.base);
      trial = this.trials.try(moves);
      this.known.set(key, trial);
    }
    return trial;
  }

  /** The same for the workspace as it is after a post. O(size of both + what is known). */
  on(base: DraftBase): KeptTrials {
    const next = new KeptTrials(base);
    const changed = changedPackages(this.base, base);
    if (changed === null) return next;
    for (const [key, trial] of this.known)
      // Where there is no answer, what it was found against is not known package by package.
      if (
        trial.price !== null &&
        !trial.isOfPeers &&
        [...trial.touched].every((name) => !changed.has(name))
      )
        next.known.set(key, trial);
    return next;
  }
}

/** The packages in which two workspaces differ, and what their copies have to do with; null: it may be all of them. */
function changedPackages(before: DraftBase, after: DraftBase): ReadonlySet<string> | null {
  const [old, now] = [before.workspace, after.workspace];
  const [oldLock, nowLock] = [before.lock?.resolution, after.lock?.resolution];
  if (old === null || now === null || oldLock == null || nowLock == null) return null;
  if (before.today !== after.today) return null;
  // Settings there may concern any package.
  const isOther = (file: string): boolean => before.files.get(file) !== after.files.get(file);
  if (isOther(ROOT_FILE) || isOther(SHAPES_FILE)) return null;
  const changed = new Set<string>();
  const differ = (a: ReadonlyMap<string, unknown>, b: ReadonlyMap<string, unknown>): void => {
    for (const name of new Set([...a.keys(), ...b.keys()]))
      if (JSON.stringify(a.get(name)) !== JSON.stringify(b.get(name))) changed.add(name);
  };
  differ(textsOf(old.agreements), textsOf(now.agreements));
  differ(valuesOf(old.shared.pins), valuesOf(now.shared.pins));
  const otherwise = [old, now].map(({ shared }) => shared.otherwise.map(withoutSpan));
  if (JSON.stringify(otherwise[0]) !== JSON.stringify(otherwise[1])) return null;
  for (const [name, record] of after.records)
    if (before.records.get(name) !== record) changed.add(name);
  noteProjects(changed, old.projects, now.projects);
  noteLocks(changed, oldLock, nowLock);
  return changed;
}

function textsOf(
  agreements: NonNullable<DraftBase['workspace']>['agreements'],
): ReadonlyMap<string, unknown> {
  return new Map([...agreements].map(([name, { text, set }]) => [name, [text, set]]));
}

/** Without where they stand. */
function valuesOf(lines: ReadonlyMap<string, object>): ReadonlyMap<string, unknown> {
  return new Map([...lines].map(([name, line]) => [name, withoutSpan(line)]));
}

function withoutSpan(line: object): object {
  return Object.fromEntries(
    Object.entries(line).filter(([key]) => !['span', 'line', 'file'].includes(key)),
  );
}

function noteProjects(
  changed: Set<string>,
  before: readonly Project[],
  after: readonly Project[],
): void {
  const left = new Map(before.map((one) => [one.folder, one]));
  const said = ({ kind, name, written, meaning, when }: Requirement): string =>
    JSON.stringify([kind, name, written, meaning.kind === 'range' ? meaning.text : meaning, when]);
  const compare = (a: readonly Requirement[], b: readonly Requirement[]): void => {
    const old = new Map(a.map((one) => [said(one), one]));
    for (const one of b) if (!old.delete(said(one))) changed.add(one.name);
    for (const { name } of old.values()) changed.add(name);
  };
  for (const project of after) {
    const old = left.get(project.folder);
    left.delete(project.folder);
    if (old !== project) compare(old?.requirements ?? [], project.requirements);
  }
  for (const gone of left.values()) compare(gone.requirements, []);
}

function noteLocks(changed: Set<string>, before: Resolution, after: Resolution): void {
  const { entered, left, moved } = compareLocks(before, after);
  const names = new Set([...entered, ...left, ...moved].map(({ name }) => name));
  for (const { copies } of [before, after])
    for (const copy of copies)
      if (names.has(copy.name)) {
        changed.add(copy.name);
        for (const { name } of [...copy.requirements, ...copy.peers]) changed.add(name);
      }
  const answersOf = ({ projects, copies }: Resolution): ReadonlyMap<string, string> =>
    new Map([
      ...projects.flatMap(({ folder, requirements, supplied }) => [
        ...requirements.map((one) => said(folder, one)),
        ...supplied.map(({ name, ranges, version }): [string, string] => [
          JSON.stringify([folder, 'supplied', name]),
          JSON.stringify([ranges, version]),
        ]),
      ]),
      ...copies.flatMap(({ name, version, requirements }) =>
        requirements.map((one) => said(`${name} ${version}`, one)),
      ),
    ]);
  const [old, now] = [answersOf(before), answersOf(after)];
  for (const key of new Set([...old.keys(), ...now.keys()]))
    if (old.get(key) !== now.get(key)) changed.add((JSON.parse(key) as string[])[2]!);
}

function said(owner: string, { kind, name, answer }: AnsweredRequirement): [string, string] {
  return [JSON.stringify([owner, kind, name]), JSON.stringify(answer)];
}
