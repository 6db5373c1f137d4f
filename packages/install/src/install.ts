import { rm } from 'node:fs/promises';
import pLimit from 'p-limit';
import { RegistryError, type InstallPlan, type PlannedCopy } from '@deep-ledger/core';
import type { Arrived } from './arrival.js';
import type { Cache, KeptTree } from './cache.js';
import type { FetchArchive } from './fetch-archive.js';
import { InstallTrouble } from './install-trouble.js';
import { layOut, type Laid } from './lay-out.js';
import { isWhole, readState, viewName, type TreeState } from './tree-state.js';
import { alone } from './work-tree-lock.js';

/** What is fetched, by integrity: a release that is laid out several times is fetched once. */
export type WantedArchive = Pick<
  PlannedCopy,
  'name' | 'version' | 'registry' | 'archive' | 'integrity' | 'isOptional'
>;

export interface FetchProgress {
  readonly done: number;
  readonly total: number;
  readonly bytes: number;
}

export interface Fetched {
  readonly trees: ReadonlyMap<string, KeptTree>;
  /** How many were fetched, and how many the cache had. */
  readonly fetched: number;
  readonly bytes: number;
  /** Optional ones that could not be had, and why. */
  readonly skipped: readonly { readonly copy: WantedArchive; readonly why: string }[];
}

/** Archives that are fetched at once. */
const AT_ONCE = 16;
/** Archives that are unpacked at once, while others are fetched. */
const UNPACKED_AT_ONCE = 8;
/** Archives that are under way at once: so many may lie on the disk, fetched and not unpacked yet. */
const UNDER_WAY = 64;
/** How often an installation begins anew when another process takes its archives out of the cache. */
const MOST_TRIES = 3;

/**
 * Sees to it that the cache has archives. All that fails is told at once; what is only optional is skipped.
 * @param from the archives of a registry; null: nobody is asked
 * @param isAnew fetch also what is there
 * @throws InstallTrouble with a line for each that failed
 */
export async function fetchAll(
  cache: Cache,
  wanted: readonly WantedArchive[],
  from: ((copy: WantedArchive) => FetchArchive) | null,
  isAnew = false,
  tell: (progress: FetchProgress) => void = () => undefined,
): Promise<Fetched> {
  const archives = new Map<string, WantedArchive>();
  for (const one of wanted) {
    const isOptional = one.isOptional && (archives.get(one.integrity)?.isOptional ?? true);
    archives.set(one.integrity, { ...one, isOptional });
  }
  const trees = new Map<string, KeptTree>();
  const failures: string[] = [];
  const skipped: { copy: WantedArchive; why: string }[] = [];
  let [fetched, bytes, done] = [0, 0, 0];
  const [limit, fetching, unpacking] = [UNDER_WAY, AT_ONCE, UNPACKED_AT_ONCE].map(pLimit);
  const one = async (copy: WantedArchive): Promise<void> => {
    const { name, version, integrity, archive } = copy;
    try {
      const known = isAnew ? null : await cache.sound(integrity);
      if (known !== null) {
        await cache.touch(known);
        trees.set(integrity, known);
        return;
      }
      if (from === null) throw new InstallTrouble('The cache does not have it.');
      const file = await cache.scratch();
      let arrived: Arrived = file;
      try {
        arrived = await fetching!(() =>
          from(copy)(archive, file, (more) => {
            bytes += more;
            tell({ done, total: archives.size, bytes });
          }),
        );
        const wanted = { name, version, integrity };
        trees.set(integrity, await unpacking!(() => cache.take(wanted, arrived, isAnew)));
        fetched++;
      } finally {
        if (arrived === file) await rm(file, { force: true });
      }
    } catch (error) {
      const why = failureWords(error);
      if (copy.isOptional) skipped.push({ copy, why });
      else failures.push(`${name} ${version}: ${why}`);
    } finally {
      tell({ done: ++done, total: archives.size, bytes });
    }
  };
  await Promise.all([...archives.values()].map((copy) => limit!(() => one(copy))));
  if (failures.length === 0) return { trees, fetched, bytes, skipped };
  throw new InstallTrouble(failures.sort().join('\n'));
}

/** Why something failed, for people. */
export function failureWords(error: unknown): string {
  if (error instanceof InstallTrouble || error instanceof RegistryError) return error.message;
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'ENOSPC' || code === 'EDQUOT') return 'There is no room left on the disk.';
  if (code === 'EROFS' || code === 'EACCES')
    return `The cache cannot be written (${message}). Name another one with --cache.`;
  return message;
}

export interface Installed extends Laid {
  readonly isUnchanged: boolean;
  readonly copies: number;
  readonly fetched: Fetched | null;
}

/** What is to be laid out, from the plan of a lockfile. */
export function stateOf(
  plan: InstallPlan,
  terms: Pick<TreeState, 'lockSum' | 'target' | 'isDev' | 'folder'>,
): TreeState {
  return {
    format: 1,
    ...terms,
    copies: plan.copies.map(({ folder, name, version, integrity, links }) => ({
      ...{ folder, name, version, integrity, links },
    })),
    projects: plan.projects,
  };
}

/**
 * Lays out a plan in a work tree: nothing is fetched that the cache has, nothing is touched that is as it should be. Where it ends
 * before its end, the next one finishes it.
 * @throws InstallTrouble
 */
export async function install(
  root: string,
  cache: Cache,
  plan: InstallPlan,
  terms: Pick<TreeState, 'lockSum' | 'target' | 'isDev' | 'folder'>,
  from: ((copy: WantedArchive) => FetchArchive) | null,
  options: {
    readonly isAnew?: boolean;
    readonly fetching?: (progress: FetchProgress) => void;
    readonly laying?: (done: number, total: number) => void;
  } = {},
): Promise<Installed> {
  const state = stateOf(plan, terms);
  const now = await readState(root);
  const isSame = now !== null && viewName(now) === viewName(state);
  if (options.isAnew !== true && isSame && (await isWhole(root, state)))
    return { isUnchanged: true, copies: plan.copies.length, made: 0, removed: 0, fetched: null };
  for (let tries = 1; ; tries++) {
    const fetched = await fetchAll(cache, plan.copies, from, options.isAnew, options.fetching);
    const usable = withoutSkipped(plan, new Set(fetched.skipped.map(({ copy }) => copy.integrity)));
    const made = stateOf(usable, terms);
    try {
      const laid = await alone(root, () =>
        layOut(
          root,
          made,
          usable.copies,
          ({ integrity }) => fetched.trees.get(integrity)!,
          options.laying,
          options.isAnew,
        ),
      );
      return { isUnchanged: false, copies: usable.copies.length, fetched, ...laid };
    } catch (error) {
      // Another process has cleaned the cache meanwhile.
      const isGone = (error as NodeJS.ErrnoException).code === 'ENOENT';
      if (!isGone || tries === MOST_TRIES) throw error;
    }
  }
}

/** A plan without optional copies that cannot be had. */
function withoutSkipped(plan: InstallPlan, skipped: ReadonlySet<string>): InstallPlan {
  if (skipped.size === 0) return plan;
  const gone = new Set(
    plan.copies.flatMap(({ folder, integrity }) => (skipped.has(integrity) ? [folder] : [])),
  );
  const left = <T extends { readonly links: PlannedCopy['links'] }>(one: T): T => ({
    ...one,
    links: one.links.filter(({ to }) => to.kind === 'project' || !gone.has(to.folder)),
  });
  return {
    copies: plan.copies.filter(({ folder }) => !gone.has(folder)).map(left),
    projects: plan.projects.map(left),
  };
}
