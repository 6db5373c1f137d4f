import { homedir } from 'node:os';
import { join } from 'node:path';
import {
  bytes as shownBytes,
  checkLock,
  installPlan,
  LOCK_FILE,
  RegistryError,
  type InstallPlan,
  type Workspace,
} from '@deep-ledger/core';
import {
  archivesOf,
  Cache,
  carriedArchive,
  fromSeveral,
  InstallTrouble,
  mirror,
  type ArchiveSource,
  type FetchArchive,
  type FetchProgress,
  type TreeState,
  type WantedArchive,
} from '@deep-ledger/install';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import { lockSum } from './lock-sum.js';
import { namedProjects } from './named-projects.js';
import type { Output } from './output.js';
import { registryPlaces } from './registry-places.js';
import type { RegistryOptions } from './registry-source.js';
import { usableWorkspace } from './usable-workspace.js';
import { readWorkTree } from './work-tree.js';

export interface ArchiveOptions extends RegistryOptions {
  /** Folder of the work tree. */
  readonly in: string;
  readonly target?: string;
  /** False: without what is required for development. */
  readonly dev: boolean;
  /** Folder of the cache. */
  readonly cache?: string;
  /** Folder of archives that were carried here. */
  readonly from?: string;
}

export interface InstallHereOptions extends ArchiveOptions {
  /** Names or folders of projects; none: all. */
  readonly project?: readonly string[];
}

/** What a lockfile is on this machine. */
export interface InstallHere {
  readonly workspace: Workspace;
  readonly plan: InstallPlan;
  readonly terms: Pick<TreeState, 'lockSum' | 'target' | 'isDev' | 'folder'>;
}

/**
 * Reads a work tree that is to be laid out. It is never resolved here: a lockfile that does not answer its manifests is refused.
 * @returns the exit code where it cannot be
 */
export async function installHere(
  options: InstallHereOptions,
  output: Output,
): Promise<InstallHere | number> {
  const files = await readWorkTree(options.in, output.complain);
  const workspace = usableWorkspace(files, output);
  if (workspace === null) return EXIT.unreadable;
  const { state, reasons, resolution } = checkLock(workspace, files);
  if (state !== 'consistent' || resolution === null) {
    for (const { message, place } of reasons)
      output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
    output.complain(
      `${LOCK_FILE} is ${state}. Run deep-ledger lock and commit the result; nothing was installed.`,
    );
    return EXIT.stale;
  }
  const target = targetHere(workspace, options.target, output);
  if (target === undefined) return EXIT.unreadable;
  const named = options.project;
  const projects = named === undefined ? null : namedProjects(workspace.projects, named, output);
  if (named !== undefined && projects === null) return EXIT.unreadable;
  const plan = installPlan(resolution, { target, projects, isDev: options.dev });
  const terms = {
    lockSum: lockSum(files.get(LOCK_FILE)!),
    target,
    isDev: options.dev,
    folder: workspace.installFolder,
  };
  return { workspace, plan, terms };
}

/** @returns undefined where the lockfile is not for this machine */
export function targetHere(
  { targets }: Workspace,
  named: string | undefined,
  output: Output,
): string | null | undefined {
  if (targets.length === 0) return null;
  const target = named ?? `${process.platform}-${process.arch}`;
  if (targets.includes(target)) return target;
  output.complain(
    `The lockfile is for ${targets.join(', ')}, not for ${target}. Name one of them with --target, or add ${target} to [platform] targets in ledger.toml and lock.`,
  );
  return undefined;
}

/** The cache of archives: where it is named, else below the user's cache folder (XDG). */
export function cacheHere({ cache }: { readonly cache?: string }): Cache {
  const base = process.env['XDG_CACHE_HOME'];
  const folder = base?.startsWith('/') ? base : join(homedir(), '.cache');
  return new Cache(
    cache ?? process.env['DEEP_LEDGER_CACHE'] ?? join(folder, 'deep-ledger', 'archives'),
  );
}

const MEBIBYTE = 1 << 20;

/**
 * Takes out of the cache what was used longest ago, where the user has bounded it; what this lockfile has stays.
 * @throws InstallTrouble
 */
export async function keepBound(cache: Cache, plan: InstallPlan, output: Output): Promise<void> {
  const setting = process.env['DEEP_LEDGER_CACHE_MIB'];
  if (setting === undefined || setting === '') return;
  const most = Number(setting);
  if (!Number.isFinite(most) || most < 0)
    throw new InstallTrouble(`DEEP_LEDGER_CACHE_MIB is no size in MiB: ${setting}`);
  const spared = new Set(plan.copies.map(({ integrity }) => integrity));
  const gone = await cache.trim(most * MEBIBYTE, spared);
  if (gone.length > 0)
    output.say(`${count(gone.length, 'archive')} taken out of the cache, those used longest ago.`);
}

/** Where archives come from; null: nobody is asked. */
export async function archivesHere(
  options: ArchiveOptions,
  { registries }: Workspace,
  output: Output,
): Promise<((copy: WantedArchive) => FetchArchive) | null> {
  if (options.from !== undefined) {
    const { from } = options;
    return (copy) => carriedArchive(from, copy);
  }
  if (options.offline === true) return null;
  const places = await registryPlaces(
    registries,
    options.registry ?? [],
    process.env,
    output.complain,
  );
  const known = new Map<string, FetchArchive>();
  const ofRegistry = ({ registry }: WantedArchive): FetchArchive => {
    const place = places.get(registry);
    if (place === undefined)
      throw new RegistryError('REGISTRY_DOWN', `Nothing says where the registry ${registry} is.`);
    const archives = known.get(registry) ?? archivesOf(place);
    known.set(registry, archives);
    return archives;
  };
  const kept = mirrorHere(process.env);
  if (kept === null) return ofRegistry;
  const own = { name: 'the registry', of: ofRegistry };
  return fromSeveral(kept.isFirst ? [kept.source, own] : [own, kept.source], output.complain);
}

/** The mirror that the environment names; null: none. @throws InstallTrouble */
function mirrorHere(
  env: Readonly<Record<string, string | undefined>>,
): { readonly source: ArchiveSource; readonly isFirst: boolean } | null {
  const { DEEP_LEDGER_MIRROR: address, DEEP_LEDGER_TOKEN: token } = env;
  if (address === undefined || address === '') return null;
  if (!/^https?:\/\//.test(address))
    throw new InstallTrouble(`DEEP_LEDGER_MIRROR is no http address: ${address}`);
  const order = env['DEEP_LEDGER_MIRROR_ORDER'] ?? 'first';
  if (order !== 'first' && order !== 'last')
    throw new InstallTrouble(`DEEP_LEDGER_MIRROR_ORDER is first or last, not "${order}".`);
  return { source: mirror(address, token ?? null), isFirst: order === 'first' };
}

/** How far fetching is, for people. */
export function fetchWords({ done, total, bytes }: FetchProgress): string {
  return `fetching archives: ${done} of ${total}, ${shownBytes(bytes)}`;
}
