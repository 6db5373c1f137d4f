import { join } from 'node:path';
import pRetry, { AbortError } from 'p-retry';
import { RegistryError, type RegistryPlace } from '@deep-ledger/core';
import { addressOf, archiveRequests, type ArchiveAnswer } from '@deep-ledger/registry-client';
import { Arrival, arrivedFrom, type Arrived } from './arrival.js';
import { InstallTrouble, NotLetIn } from './install-trouble.js';

export interface FetchSettings {
  /** Tries after the first. */
  readonly retries: number;
  readonly firstWaitMs: number;
  /** How long a registry may say nothing. */
  readonly silenceMs: number;
  /** Of an archive. */
  readonly mostBytes: number;
}

export const USUAL_FETCHING: FetchSettings = {
  retries: 4,
  firstWaitMs: 200,
  silenceMs: 30_000,
  mostBytes: 1024 ** 3,
};

/**
 * Where the archives of a registry come from. @param into a file of the caller's, written where an archive is large
 * @param tell hears of bytes as they come
 * @throws InstallTrouble, RegistryError
 */
export type FetchArchive = (
  archive: string,
  into: string,
  tell: (bytes: number) => void,
) => Promise<Arrived>;

/**
 * Fetches archives of the registry at an address, or copies them from a folder. An archive that breaks off is asked for
 * again, after a wait that doubles each time, from where it broke off.
 */
export function archivesOf(
  place: RegistryPlace,
  settings: FetchSettings = USUAL_FETCHING,
): FetchArchive {
  if (addressOf(place.address) === null)
    return async (archive, into, tell) => {
      const file = join(place.address, archive);
      return arrivedFrom(file, into, tell).catch((error: NodeJS.ErrnoException) => {
        throw new InstallTrouble(`${file} cannot be read (${error.code ?? error.message}).`);
      });
    };
  const requests = archiveRequests(place);
  const { retries, firstWaitMs: minTimeout } = settings;
  return (archive, into, tell) => {
    const arrival = new Arrival(into);
    return pRetry(
      async () => {
        const silence = new Silence(settings.silenceMs);
        try {
          const response = await requests.ask(archive, arrival.bytes, silence.signal);
          await take(response, requests.address(archive), arrival, silence, settings, tell);
          return arrival.whole();
        } catch (error) {
          if (silence.signal.aborted)
            throw new RegistryError(
              'REGISTRY_DOWN',
              `${requests.address(archive)} said nothing for ${settings.silenceMs / 1000} seconds.`,
            );
          throw error;
        } finally {
          silence.end();
        }
      },
      { retries, minTimeout, factor: 2 },
    );
  };
}

async function take(
  { status, body }: ArchiveAnswer,
  address: string,
  arrival: Arrival,
  silence: Silence,
  { mostBytes }: FetchSettings,
  tell: (bytes: number) => void,
): Promise<void> {
  // A body that nobody reads would hold its connection.
  if (status !== 200 && status !== 206) body.resume();
  if (status === 429 || status >= 500)
    throw new RegistryError('REGISTRY_DOWN', `${address} answers with status ${status}.`);
  if (status === 416) {
    // The part that has come is not the beginning of the archive that the registry has now.
    arrival.restart();
    throw new RegistryError('REGISTRY_NONSENSE', `${address} answers with status ${status}.`);
  }
  if (status !== 200 && status !== 206)
    throw new AbortError(
      status === 401 || status === 403
        ? new NotLetIn(`${address} does not let this in (status ${status}). Set a token for it.`)
        : new InstallTrouble(`${address} has no archive (status ${status}).`),
    );
  if (status === 200) arrival.restart();
  try {
    for await (const chunk of body as AsyncIterable<Buffer>) {
      silence.heard();
      if (arrival.bytes + chunk.length > mostBytes)
        throw new AbortError(new InstallTrouble(`${address} is larger than ${mostBytes} bytes.`));
      // When the rest does not come, this part is there.
      attempt(() => arrival.add(chunk));
      tell(chunk.length);
    }
  } catch (error) {
    if (error instanceof AbortError) throw error;
    throw new RegistryError('REGISTRY_DOWN', `${address} broke off (${(error as Error).message}).`);
  }
}

/** A refusal of the disk is no reason to ask the registry again. */
function attempt<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    throw new AbortError(error as Error);
  }
}

/** Ends a request whose other side says nothing. */
class Silence {
  private readonly controller = new AbortController();
  private readonly timer: NodeJS.Timeout;
  readonly signal = this.controller.signal;

  constructor(ms: number) {
    this.timer = setTimeout(() => this.controller.abort(), ms);
  }

  heard(): void {
    this.timer.refresh();
  }

  end(): void {
    clearTimeout(this.timer);
  }
}
