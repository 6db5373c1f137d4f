import { closeSync, openSync, statSync, writeSync } from 'node:fs';
import { copyFile, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import pRetry, { AbortError } from 'p-retry';
import { RegistryError, type RegistryPlace } from '@deep-ledger/core';
import { addressOf, archiveRequests, type ArchiveAnswer } from '@deep-ledger/registry-client';
import { InstallTrouble, NotLetIn } from './install-trouble.js';

export interface FetchSettings {
  /** Tries after the first. */
  readonly retries: number;
  readonly firstWaitMs: number;
  /** So long a registry may say nothing. */
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
 * Where the archives of a registry come from. @param tell hears of bytes as they come
 * @throws InstallTrouble, RegistryError
 */
export type FetchArchive = (
  archive: string,
  into: string,
  tell: (bytes: number) => void,
) => Promise<void>;

/**
 * Fetches archives of the registry at an address, or copies them from a folder. What breaks off is tried again after a while
 * that doubles, and goes on where it broke off.
 */
export function archivesOf(
  place: RegistryPlace,
  settings: FetchSettings = USUAL_FETCHING,
): FetchArchive {
  if (addressOf(place.address) === null)
    return async (archive, into, tell) => {
      const file = join(place.address, archive);
      await copyFile(file, into).catch((error: NodeJS.ErrnoException) => {
        throw new InstallTrouble(`${file} cannot be read (${error.code ?? error.message}).`);
      });
      tell((await stat(into)).size);
    };
  const requests = archiveRequests(place);
  const { retries, firstWaitMs: minTimeout } = settings;
  return (archive, into, tell) =>
    pRetry(
      async () => {
        const have = sizeOf(into);
        const silence = new Silence(settings.silenceMs);
        try {
          const response = await requests.ask(archive, have, silence.signal);
          await store(response, requests.address(archive), into, have, silence, settings, tell);
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
}

async function store(
  { status, body }: ArchiveAnswer,
  address: string,
  into: string,
  have: number,
  silence: Silence,
  { mostBytes }: FetchSettings,
  tell: (bytes: number) => void,
): Promise<void> {
  // What nobody reads would hold its connection.
  if (status !== 200 && status !== 206) body.resume();
  if (status === 429 || status >= 500)
    throw new RegistryError('REGISTRY_DOWN', `${address} answers with status ${status}.`);
  if (status === 416) {
    // What is there is no beginning of what the registry has now.
    await rm(into, { force: true });
    throw new RegistryError('REGISTRY_NONSENSE', `${address} answers with status ${status}.`);
  }
  if (status !== 200 && status !== 206)
    throw new AbortError(
      status === 401 || status === 403
        ? new NotLetIn(`${address} does not let this in (status ${status}). Set a token for it.`)
        : new InstallTrouble(`${address} has no archive (status ${status}).`),
    );
  const isRest = status === 206 && have > 0;
  let bytes = isRest ? have : 0;
  const file = attempt(() => openSync(into, isRest ? 'a' : 'w'));
  try {
    for await (const chunk of body as AsyncIterable<Buffer>) {
      silence.heard();
      bytes += chunk.length;
      if (bytes > mostBytes)
        throw new AbortError(new InstallTrouble(`${address} is larger than ${mostBytes} bytes.`));
      // Whatever has arrived is there when the rest does not.
      attempt(() => writeWhole(file, chunk));
      tell(chunk.length);
    }
  } catch (error) {
    if (error instanceof AbortError) throw error;
    throw new RegistryError('REGISTRY_DOWN', `${address} broke off (${(error as Error).message}).`);
  } finally {
    closeSync(file);
  }
}

/** What the disk says no to is not asked for again. Synchronous: there are very many chunks, and each takes no time. */
function attempt<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    throw new AbortError(error as Error);
  }
}

function writeWhole(file: number, chunk: Buffer): void {
  for (let at = 0; at < chunk.length;) at += writeSync(file, chunk, at);
}

function sizeOf(file: string): number {
  return statSync(file, { throwIfNoEntry: false })?.size ?? 0;
}

/** Ends a request whose other side says nothing. */
class Silence {
  private readonly controller = new AbortController();
  private timer: NodeJS.Timeout;
  readonly signal = this.controller.signal;

  constructor(private readonly ms: number) {
    this.timer = this.begin();
  }

  heard(): void {
    clearTimeout(this.timer);
    this.timer = this.begin();
  }

  end(): void {
    clearTimeout(this.timer);
  }

  private begin(): NodeJS.Timeout {
    return setTimeout(() => this.controller.abort(), this.ms);
  }
}
