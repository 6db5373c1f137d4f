import { rm } from 'node:fs/promises';
import { placeAt, RegistryError } from '@deep-ledger/core';
import { isWhole } from './carried.js';
import { archivesOf, USUAL_FETCHING, type FetchArchive } from './fetch-archive.js';
import { failureWords, type WantedArchive } from './install.js';
import { InstallTrouble, NotLetIn } from './install-trouble.js';
import { digestName, digestOf } from './integrity.js';

/** Somewhere archives come from. */
export interface ArchiveSource {
  /** For people. */
  readonly name: string;
  readonly of: (copy: WantedArchive) => FetchArchive;
}

/** A mirror does not have everything, and has another place behind it: it is not asked again and again. */
const FETCHING = { ...USUAL_FETCHING, retries: 1 };

/** The mirror of a server: archives by their integrity. @param token null: none */
export function mirror(address: string, token: string | null): ArchiveSource {
  const fetch = archivesOf({ ...placeAt(address), token }, FETCHING);
  return {
    name: `the mirror ${address}`,
    of:
      ({ integrity }) =>
      (_, into, tell) =>
        fetch(digestName(digestOf(integrity)), into, tell),
  };
}

/**
 * Asks one source after another for each archive. It checks an archive that comes from any source but the last, and
 * asks the next source where the sum does not hold. It leaves out a source that does not answer at all from then on.
 * @param tell hears once of each that is left out
 */
export function fromSeveral(
  sources: readonly ArchiveSource[],
  tell: (sentence: string) => void,
): (copy: WantedArchive) => FetchArchive {
  const down = new Set<ArchiveSource>();
  return (copy) => async (archive, into, heard) => {
    const answering = sources.filter((source) => !down.has(source));
    const asked = answering.length === 0 ? sources : answering;
    const reasons: string[] = [];
    for (const source of asked)
      try {
        const arrived = await source.of(copy)(archive, into, heard);
        if (source === asked.at(-1) || (await isWhole(arrived, copy.integrity))) return arrived;
        throw new InstallTrouble('The archive is not what the lockfile has.');
      } catch (error) {
        const why = `${source.name}: ${failureWords(error)}`;
        reasons.push(why);
        const isOut = error instanceof RegistryError || error instanceof NotLetIn;
        if (isOut && !down.has(source)) {
          down.add(source);
          tell(`${why} It is not asked again.`);
        }
        await rm(into, { force: true });
      }
    throw new InstallTrouble(reasons.join(' '));
  };
}
