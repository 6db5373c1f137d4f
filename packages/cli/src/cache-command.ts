import { createInterface } from 'node:readline/promises';
import { bytes as shownBytes, globMatcher, LOCK_FILE, readLock } from '@deep-ledger/core';
import { unpackedBytes, type KeptTree } from '@deep-ledger/install';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import { cacheHere } from './install-here.js';
import type { Output } from './output.js';
import { tableWords } from './table-words.js';
import { readWorkTree } from './work-tree.js';

export interface CacheOptions {
  readonly in: string;
  readonly cache?: string;
  readonly json?: true;
}

export interface CleanOptions extends CacheOptions {
  /** Days. */
  readonly unusedFor?: number;
  /** Do not ask. */
  readonly yes?: true;
}

const DAY_MS = 86_400_000;

export function cacheWhere(options: CacheOptions, output: Output): number {
  output.say(cacheHere(options).folder);
  return EXIT.ok;
}

/** Lists what the cache has. @param pattern of names @returns the exit code */
export async function cacheList(
  pattern: string | undefined,
  options: CacheOptions,
  output: Output,
): Promise<number> {
  const used = await integritiesHere(options, output);
  const trees = named(await cacheHere(options).list(), pattern);
  if (options.json === true) {
    const archives = trees.map((tree) => ({
      name: tree.name,
      version: tree.version,
      integrity: tree.integrity,
      bytes: unpackedBytes(tree),
      lastUsed: tree.lastUsed.toISOString(),
      isUsedHere: used.has(tree.integrity),
    }));
    output.say(JSON.stringify({ archives }, null, 2));
    return EXIT.ok;
  }
  const rows = trees.map((tree) => [
    tree.name,
    tree.version,
    shownBytes(unpackedBytes(tree)),
    tree.lastUsed.toISOString().slice(0, 10),
    used.has(tree.integrity) ? 'here' : '-',
  ]);
  for (const line of tableWords([['package', 'version', 'size', 'last used', 'lockfile'], ...rows]))
    output.say(line);
  output.say(sumWords(trees));
  return EXIT.ok;
}

/** Hashes everything again; what does not hold is taken out. @returns the exit code */
export async function cacheVerify(options: CacheOptions, output: Output): Promise<number> {
  const cache = cacheHere(options);
  const trees = await cache.list();
  let bad = 0;
  for (const [i, tree] of trees.entries()) {
    output.progress(`hashing: ${i} of ${trees.length}`);
    const faults = await cache.faults(tree);
    if (faults.length === 0) continue;
    bad++;
    await cache.remove(tree);
    output.progress(null);
    output.say(`removed  ${tree.name} ${tree.version}: ${faults.join(', ')}`);
  }
  output.progress(null);
  await cache.tidy();
  output.say(`${sumWords(trees)} ${bad === 0 ? 'All hold.' : `${bad} did not hold.`}`);
  return bad === 0 ? EXIT.ok : EXIT.stale;
}

/** Takes archives out of the cache; on a terminal it asks first. @returns the exit code */
export async function cacheClean(
  pattern: string | undefined,
  options: CleanOptions,
  output: Output,
): Promise<number> {
  const cache = cacheHere(options);
  const before = Date.now() - (options.unusedFor ?? 0) * DAY_MS;
  const trees = named(await cache.list(), pattern).filter(
    ({ lastUsed }) => options.unusedFor === undefined || lastUsed.getTime() < before,
  );
  if (trees.length === 0) {
    output.say('Nothing to remove.');
    return EXIT.ok;
  }
  output.say(sumWords(trees));
  if (options.yes !== true && process.stdin.isTTY && !(await isSure())) {
    output.say('Nothing was removed.');
    return EXIT.ok;
  }
  for (const tree of trees) await cache.remove(tree);
  await cache.tidy();
  output.say(`${count(trees.length, 'archive')} removed.`);
  return EXIT.ok;
}

async function isSure(): Promise<boolean> {
  const lines = createInterface({ input: process.stdin, output: process.stdout });
  const answer = await lines.question('Remove them? [y/N] ');
  lines.close();
  return /^y(es)?$/i.test(answer.trim());
}

function named(trees: readonly KeptTree[], pattern: string | undefined): readonly KeptTree[] {
  if (pattern === undefined) return trees;
  const isNamed = globMatcher(pattern);
  return trees.filter(({ name }) => isNamed(name));
}

function sumWords(trees: readonly KeptTree[]): string {
  const bytes = trees.reduce((sum, tree) => sum + unpackedBytes(tree), 0);
  return `${count(trees.length, 'archive')}, ${shownBytes(bytes)}.`;
}

/** Integrities of the lockfile of the work tree, where there is one. */
async function integritiesHere(
  options: CacheOptions,
  output: Output,
): Promise<ReadonlySet<string>> {
  const text = (await readWorkTree(options.in, output.complain)).get(LOCK_FILE);
  const reading = text === undefined ? null : readLock(text);
  if (reading?.kind !== 'read') return new Set();
  return new Set(reading.resolution.copies.map(({ integrity }) => integrity));
}
