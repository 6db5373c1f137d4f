import { randomUUID } from 'node:crypto';
import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import pLimit from 'p-limit';
import { arrivedFrom, type Arrived } from './arrival.js';
import type { FetchArchive } from './fetch-archive.js';
import { failureWords, type FetchProgress, type WantedArchive } from './install.js';
import { InstallTrouble } from './install-trouble.js';
import { digestName, digestOf, hashArchive } from './integrity.js';

/** Archives that are fetched at once. */
const AT_ONCE = 16;
/** Archives that are under way at once: fetched, checked and written. */
const UNDER_WAY = 64;

/** The file of an archive in a folder that is carried to a machine without a network. */
export function carriedFile(folder: string, integrity: string): string {
  return join(folder, `${digestName(digestOf(integrity))}.tar.gz`);
}

/** Archives out of such a folder. */
export function carriedArchive(folder: string, { integrity }: WantedArchive): FetchArchive {
  return async (_, into, tell) => {
    const file = carriedFile(folder, integrity);
    return arrivedFrom(file, into, tell).catch((error: NodeJS.ErrnoException) => {
      throw new InstallTrouble(
        error.code === 'ENOENT'
          ? `${folder} does not have it.`
          : `${file} cannot be read (${error.code ?? error.message}).`,
      );
    });
  };
}

/**
 * Puts one archive into such a folder, unless it is there and whole. It is checked before it gets its name.
 * @returns whether it was fetched
 * @throws InstallTrouble, RegistryError
 */
export async function carry(
  folder: string,
  { archive, integrity }: Pick<WantedArchive, 'archive' | 'integrity'>,
  from: FetchArchive,
  tell: (bytes: number) => void = () => undefined,
): Promise<boolean> {
  const file = carriedFile(folder, integrity);
  if (await isWhole(file, integrity)) return false;
  const scratch = join(folder, `.${randomUUID()}`);
  try {
    const arrived = await from(archive, scratch, tell);
    if (!(await isWhole(arrived, integrity)))
      throw new InstallTrouble('The archive is not what the lockfile has.');
    if (typeof arrived !== 'string') await writeFile(scratch, arrived, { flag: 'wx' });
    await rename(scratch, file);
    return true;
  } catch (error) {
    await rm(scratch, { force: true });
    throw error;
  }
}

/**
 * Fills a folder that is carried; what it has already is not fetched again.
 * @returns how many were fetched
 * @throws InstallTrouble with a line for each that failed
 */
export async function fillCarried(
  folder: string,
  wanted: readonly WantedArchive[],
  from: (copy: WantedArchive) => FetchArchive,
  tell: (progress: FetchProgress) => void = () => undefined,
): Promise<{ readonly fetched: number; readonly bytes: number }> {
  await mkdir(folder, { recursive: true });
  const archives = [...new Map(wanted.map((one) => [one.integrity, one])).values()];
  const failures: string[] = [];
  let [fetched, bytes, done] = [0, 0, 0];
  const [limit, fetching] = [pLimit(UNDER_WAY), pLimit(AT_ONCE)];
  const one = async (copy: WantedArchive): Promise<void> => {
    const fetch: FetchArchive = (...asked) => fetching(() => from(copy)(...asked));
    try {
      const isNew = await carry(folder, copy, fetch, (more) => {
        bytes += more;
        tell({ done, total: archives.length, bytes });
      });
      if (isNew) fetched++;
    } catch (error) {
      failures.push(`${copy.name} ${copy.version}: ${failureWords(error)}`);
    } finally {
      tell({ done: ++done, total: archives.length, bytes });
    }
  };
  await Promise.all(archives.map((copy) => limit(() => one(copy))));
  if (failures.length > 0) throw new InstallTrouble(failures.sort().join('\n'));
  return { fetched, bytes };
}

/** Is there the archive of an integrity, as it should be? O(its bytes). */
export async function isWhole(archive: Arrived, integrity: string): Promise<boolean> {
  const { algorithm, hex } = digestOf(integrity);
  return (await hashArchive(archive, algorithm))?.hex === hex;
}
