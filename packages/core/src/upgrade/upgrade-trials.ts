import { termsOf, peersWithout, type DraftBase } from '../draft/index.js';
import type { Move } from '../edit/index.js';
import { compareLocks, type LockChange } from '../lock/index.js';
import type { Copy, Question, Resolution, UnmetPeer, Watch } from '../resolve/index.js';
import { schemeOf } from '../manifest/index.js';
import { parseVersion } from '../version/index.js';
import { UpgradedWorkspaces } from './upgraded-workspaces.js';

/** What moves cost. */
export interface UpgradePrice {
  /** Hand-written files that change. */
  readonly files: number;
  /** Copies that move to another release. */
  readonly moved: number;
  readonly entered: number;
  readonly left: number;
  /** Of the archives, more or fewer than now. */
  readonly bytes: number;
}

/** What becomes of moves that are made together. */
export interface UpgradeTrial {
  /** What stands against it, each a sentence; none: it can be taken. */
  readonly against: readonly string[];
  /** Null: there is no answer at all. */
  readonly price: UpgradePrice | null;
}

/** A trial with the packages in which anything came out otherwise, or was asked for otherwise. */
export interface WatchedTrial extends UpgradeTrial {
  readonly touched: ReadonlySet<string>;
  /** Is a peer among it? What projects are supplied with hangs on all that leads to whoever asks for it. */
  readonly isOfPeers: boolean;
}

/**
 * Tries moves on a workspace, without writing any file: the result of a draft with the same moves. Moves can be taken
 * where all requirements have an answer, no peer breaks, and no package gets more copies than it has.
 */
export class UpgradeTrials {
  private readonly before: Resolution | null;
  private readonly terms: Omit<Question, 'workspace'>;
  private readonly bytes = new Map<string, number>();
  private readonly requirersBefore = new Map<string, Copy[]>();
  /** Projects that require a package, by their index. */
  private readonly projectsBefore = new Map<string, number[]>();
  private upgraded: UpgradedWorkspaces | null = null;
  private readonly copiesBefore = new Map<string, readonly Copy[]>();
  /** Names that copies ask for as peers. */
  private readonly peerNames = new Set<string>();

  constructor(
    private readonly base: DraftBase,
    private readonly watch: Watch = () => undefined,
  ) {
    this.terms = termsOf(base, []);
    this.before = this.startingPoint();
    for (const copy of this.before?.copies ?? []) {
      this.copiesBefore.set(copy.name, [...(this.copiesBefore.get(copy.name) ?? []), copy]);
      for (const { name } of copy.peers) this.peerNames.add(name);
      for (const name of new Set(copy.requirements.map((one) => one.name))) {
        const requirers = this.requirersBefore.get(name);
        if (requirers === undefined) this.requirersBefore.set(name, [copy]);
        else requirers.push(copy);
      }
    }
    this.before?.projects.forEach(({ requirements }, index) => {
      for (const name of new Set(requirements.map((one) => one.name))) {
        const requirers = this.projectsBefore.get(name);
        if (requirers === undefined) this.projectsBefore.set(name, [index]);
        else requirers.push(index);
      }
    });
  }

  /**
   * The lockfile's resolution. Where the engine has the same result, it is the engine's own object: then copies that a
   * trial does not touch are the same objects, and are not compared.
   */
  private startingPoint(): Resolution | null {
    const { workspace, lock, engine } = this.base;
    const locked = lock?.resolution ?? null;
    if (workspace === null || locked === null) return null;
    const outcome = engine.resolve({ ...this.terms, workspace }, this.watch);
    if (outcome.kind !== 'answered') return locked;
    const { entered, left, moved } = compareLocks(locked, outcome.resolution);
    return entered.length + left.length + moved.length === 0 ? outcome.resolution : locked;
  }

  /** Cost: one answer of the engine from where it stands, O(requirements + copies). */
  try(moves: readonly Move[]): WatchedTrial {
    const { base, before } = this;
    const wrong = this.wrongVersions(moves);
    if (wrong.length > 0)
      return { against: wrong, price: null, touched: new Set(), isOfPeers: false };
    this.upgraded ??= new UpgradedWorkspaces(base.workspace!);
    const { workspace, files } = this.upgraded.after(moves);
    const rePicks = moves.map(({ package: name, from, to }) => ({ name, from, to }));
    const outcome = base.engine.resolve({ ...this.terms, workspace, rePicks }, this.watch);
    const touched = new Set(moves.map((move) => move.package));
    if (outcome.kind === 'ask')
      return {
        against: [`The registry's records of ${outcome.names.join(', ')} are not loaded.`],
        price: null,
        touched,
        isOfPeers: false,
      };
    if (outcome.kind === 'unanswered') {
      const against = outcome.unanswered.flatMap(({ sentences }) => sentences);
      // Who moves one of the requirements that clash may bring an answer.
      for (const { requirements } of outcome.unanswered)
        for (const { name } of requirements) touched.add(name);
      return { against, price: null, touched, isOfPeers: false };
    }
    const { resolution, unmetPeers } = outcome;
    const change = compareLocks(before, resolution);
    const broken = peersWithout(unmetPeers, base.unmetPeers());
    const hasPeers = this.touch(touched, change, resolution);
    for (const { name } of broken) touched.add(name);
    const unwanted = [...moreCopies(change, resolution), ...untaken(moves, resolution)];
    return {
      against: [...broken.map(peerWords), ...this.unwantedWords(unwanted, change, resolution)],
      price: {
        files: files.size,
        moved: change.moved.length,
        entered: change.entered.length,
        left: change.left.length,
        bytes: this.bytesOf(change),
      },
      touched,
      isOfPeers: hasPeers || [...touched].some((name) => this.peerNames.has(name)),
    };
  }

  /** Texts that name no version of their package's registry, each in a sentence. */
  private wrongVersions(moves: readonly Move[]): readonly string[] {
    const { registries } = this.base.workspace!;
    return moves.flatMap(({ package: name, from, to }) =>
      [from, to]
        .filter((text) => !parseVersion(text, schemeOf(registries, name)).ok)
        .map((text) => `"${text}" is no version of ${name}.`),
    );
  }

  /** Everything that copies which came or went have to do with. @returns whether any of them asks for a peer */
  private touch(
    touched: Set<string>,
    { entered, left, moved }: LockChange,
    after: Resolution,
  ): boolean {
    const names = new Set([...entered, ...left, ...moved].map(({ name }) => name));
    const copies = [
      ...[...names].flatMap((name) => this.copiesBefore.get(name) ?? []),
      ...[...names].flatMap((name) => copiesNamed(after, name)),
    ];
    for (const copy of copies) {
      touched.add(copy.name);
      for (const { name } of copy.requirements) touched.add(name);
      for (const { name } of copy.peers) touched.add(name);
    }
    return copies.some(({ peers }) => peers.length > 0);
  }

  /** Each with whom it answers: one by name, the others by their number. */
  private unwantedWords(
    unwanted: readonly Unwanted[],
    change: LockChange,
    after: Resolution,
  ): readonly string[] {
    if (unwanted.length === 0) return [];
    const others = [...after.projects.keys()].filter(
      (index) => after.projects[index] !== this.before?.projects[index],
    );
    return unwanted.map(({ name, version, says }) => {
      let first = 'it is supplied as a peer';
      let count = 0;
      const look = (requirements: Copy['requirements'], ownerName: () => string): void => {
        for (const one of requirements) {
          if (one.name !== name || !isAnsweredBy(one.answer, version)) continue;
          if (count++ === 0) first = `${ownerName()} requires ${one.range}`;
        }
      };
      const projects = new Set([...(this.projectsBefore.get(name) ?? []), ...others]);
      for (const index of [...projects].sort((a, b) => a - b)) {
        const { folder, requirements } = after.projects[index]!;
        look(requirements, () => folder);
      }
      for (const one of this.requirers(name, change, after))
        look(one.requirements, () => `${one.name} ${one.version}`);
      return `${says}: ${first}${count <= 1 ? '.' : `, as ${count - 1} more do.`}`;
    });
  }

  /** The copies that require a package afterwards, in their order. O((requirers + what changed) x log copies) */
  private requirers(
    name: string,
    { entered, moved }: LockChange,
    after: Resolution,
  ): readonly Copy[] {
    const places = new Set([
      ...(this.requirersBefore.get(name) ?? []).map((copy) =>
        placeOf(after, copy.name, copy.version),
      ),
      ...entered.map((copy) => placeOf(after, copy.name, copy.version)),
      ...moved.map((copy) => placeOf(after, copy.name, copy.to)),
    ]);
    places.delete(-1);
    return [...places]
      .sort((a, b) => a - b)
      .map((at) => after.copies[at]!)
      .filter(({ requirements }) => requirements.some((one) => one.name === name));
  }

  private bytesOf({ entered, left, moved }: LockChange): number {
    const sum = (copies: readonly { name: string; version: string }[]): number =>
      copies.reduce((all, { name, version }) => all + this.sizeOf(name, version), 0);
    return (
      sum(entered) -
      sum(left) +
      sum(moved.map(({ name, to }) => ({ name, version: to }))) -
      sum(moved.map(({ name, from }) => ({ name, version: from })))
    );
  }

  private sizeOf(name: string, version: string): number {
    const key = `${name} ${version}`;
    let bytes = this.bytes.get(key);
    if (bytes === undefined) {
      const releases = this.base.records.get(name)?.releases ?? [];
      bytes = releases.find(({ text }) => text === version)?.archive.bytes ?? 0;
      this.bytes.set(key, bytes);
    }
    return bytes;
  }
}

function peerWords({ copy, name, range, provider, version }: UnmetPeer): string {
  const has = version === null ? `provides no ${name}` : `provides ${version}`;
  return `${copy} asks for ${name} ${range} beside it, and ${provider} ${has}.`;
}

/** Where the copies of a package begin, or would stand. O(log copies). */
function beginningOf({ copies }: Resolution, name: string): number {
  let [from, below] = [0, copies.length];
  while (from < below) {
    const middle = (from + below) >> 1;
    if (copies[middle]!.name < name) from = middle + 1;
    else below = middle;
  }
  return from;
}

/** The index of a copy; -1: it is gone. O(log copies). */
function placeOf(after: Resolution, name: string, version: string): number {
  for (let at = beginningOf(after, name); after.copies[at]?.name === name; at++)
    if (after.copies[at]!.version === version) return at;
  return -1;
}

/** The copies of a package, which stand together. O(log copies). */
function copiesNamed(after: Resolution, name: string): readonly Copy[] {
  const { copies } = after;
  const from = beginningOf(after, name);
  let end = from;
  while (copies[end]?.name === name) end++;
  return copies.slice(from, end);
}

/** A copy that is not wanted, and what is said of it before who asks for it. */
interface Unwanted {
  readonly name: string;
  readonly version: string;
  readonly says: string;
}

/** Packages that get more copies than they had, and more than one. */
function moreCopies({ entered, left }: LockChange, after: Resolution): readonly Unwanted[] {
  const more = new Map<string, number>();
  for (const { name } of entered) more.set(name, (more.get(name) ?? 0) + 1);
  for (const { name } of left) more.set(name, (more.get(name) ?? 0) - 1);
  return [...more].flatMap(([name, count]): Unwanted[] => {
    if (count <= 0) return [];
    const copies = copiesNamed(after, name);
    const had = copies.length - count;
    if (copies.length <= Math.max(1, had)) return [];
    const versions = copies.map(({ version }) => version).join(' and ');
    const says = `${name} would stand there as ${versions}`;
    return [{ name, version: copies[0]!.version, says }];
  });
}

/** Moves after which nothing is answered by the new release, because who asks does not admit it. */
function untaken(moves: readonly Move[], after: Resolution): readonly Unwanted[] {
  return moves.flatMap(({ package: name, from, to }) =>
    copiesNamed(after, name).some(({ version }) => version === to)
      ? []
      : [{ name, version: from, says: `Nothing would take ${name} ${to}` }],
  );
}

function isAnsweredBy(answer: Copy['requirements'][number]['answer'], version: string): boolean {
  return answer.kind === 'copy' && answer.version === version;
}
