import { RegistryError, unreachableRegistry, type RegistryPlace } from '@deep-ledger/core';
import { addressOf } from './address.js';
import { fetchThrough } from './fetch-through.js';
import { authorizationAt, certificates } from './registry-port.js';

/** Asks a registry for one of its archives. */
export interface ArchiveRequests {
  /** The address of an archive; may be shown. */
  readonly address: (archive: string) => string;
  /**
   * Asks for an archive from a byte on, as it is stored. What lets one in goes along to the registry's own origin alone, also
   * where that leads elsewhere.
   * @throws RegistryError when nobody answers
   */
  readonly ask: (archive: string, from: number, signal: AbortSignal) => Promise<Response>;
}

/** @param place with an http address */
export function archiveRequests(place: RegistryPlace): ArchiveRequests {
  const base = addressOf(place.address);
  if (base === null) throw new Error(`${place.address} is no http address`);
  const authorization = authorizationAt(place) ?? base.authorization;
  const address = (archive: string): string =>
    /^https?:\/\//.test(archive)
      ? archive
      : `${base.url}${archive.startsWith('/') ? '' : '/'}${archive}`;
  let fetching: Promise<typeof fetch> | null = null;
  return {
    address,
    ask: async (archive, from, signal) => {
      const url = address(archive);
      const isOwn = new URL(url).origin === new URL(base.url).origin;
      fetching ??=
        place.ca === null ? fetchThrough(null) : certificates(place.ca).then(fetchThrough);
      const fetched = await fetching;
      return fetched(url, {
        signal,
        headers: {
          // Archives are checked as they are stored; nothing is to be packed or unpacked on the way.
          'accept-encoding': 'identity',
          ...(from === 0 ? {} : { range: `bytes=${from}-` }),
          ...(isOwn && authorization !== null ? { authorization } : {}),
        },
      }).catch((error: unknown) => {
        if (signal.aborted || error instanceof RegistryError) throw error;
        throw unreachableRegistry(url, error);
      });
    },
  };
}
