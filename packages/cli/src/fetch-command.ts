import { bytes as shownBytes } from '@deep-ledger/core';
import { fetchAll, fillCarried, InstallTrouble } from '@deep-ledger/install';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import {
  archivesHere,
  cacheHere,
  fetchWords,
  installHere,
  keepBound,
  type InstallHereOptions,
} from './install-here.js';
import type { Output } from './output.js';

export interface FetchOptions extends InstallHereOptions {
  /** A folder of archives that is carried elsewhere, in place of the cache. */
  readonly into?: string;
  readonly refetch?: true;
}

/** Fetches the archives of the lockfile and lays out nothing. @returns the exit code */
export async function fetchCommand(options: FetchOptions, output: Output): Promise<number> {
  const here = await installHere(options, output);
  if (typeof here === 'number') return here;
  const { workspace, plan } = here;
  const from = await archivesHere(options, workspace, output);
  const tell = (progress: Parameters<typeof fetchWords>[0]): void =>
    output.progress(fetchWords(progress));
  try {
    if (options.into !== undefined && from !== null) {
      const { fetched, bytes } = await fillCarried(options.into, plan.copies, from, tell);
      output.progress(null);
      output.say(
        `${count(fetched, 'archive')} fetched (${shownBytes(bytes)}) into ${options.into}; carry it and install with --from.`,
      );
      return EXIT.ok;
    }
    const isAnew = options.refetch === true;
    const cache = cacheHere(options);
    const { fetched, bytes, trees, skipped } = await fetchAll(
      cache,
      plan.copies,
      from,
      isAnew,
      tell,
    );
    output.progress(null);
    for (const { copy, why } of skipped)
      output.say(`skipped  ${copy.name} ${copy.version}, which is optional: ${why}`);
    output.say(
      `${count(fetched, 'archive')} fetched (${shownBytes(bytes)}); the cache has ${count(trees.size, 'archive')} of this lockfile.`,
    );
    if (fetched > 0) await keepBound(cache, plan, output);
    return EXIT.ok;
  } catch (error) {
    output.progress(null);
    if (!(error instanceof InstallTrouble)) throw error;
    output.complain(error.message);
    return EXIT.unreadable;
  }
}
