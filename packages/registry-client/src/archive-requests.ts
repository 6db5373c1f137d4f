import { pipeline, type Readable } from 'node:stream';
import { createBrotliDecompress, createGunzip, createInflate } from 'node:zlib';
import type { Dispatcher } from 'undici';
import { RegistryError, unreachableRegistry, type RegistryPlace } from '@deep-ledger/core';
import { addressOf } from './address.js';
import { dispatcherThrough } from './fetch-through.js';
import { authorizationAt, certificates } from './registry-port.js';

export interface ArchiveAnswer {
  readonly status: number;
  /** Has to be read, or resumed. */
  readonly body: Readable;
}

/** Asks a registry for one of its archives. */
export interface ArchiveRequests {
  /** The address of an archive; may be shown. */
  readonly address: (archive: string) => string;
  /**
   * Asks for an archive from a byte on, as it is stored. The credentials go to the registry's own origin alone, also
   * where it redirects elsewhere.
   * @throws RegistryError when nobody answers
   */
  readonly ask: (archive: string, from: number, signal: AbortSignal) => Promise<ArchiveAnswer>;
}

const MOST_REDIRECTIONS = 5;

/** @param place with an http address */
export function archiveRequests(place: RegistryPlace): ArchiveRequests {
  const base = addressOf(place.address);
  if (base === null) throw new Error(`${place.address} is no http address`);
  const authorization = authorizationAt(place) ?? base.authorization;
  const address = (archive: string): string =>
    /^https?:\/\//.test(archive)
      ? archive
      : `${base.url}${archive.startsWith('/') ? '' : '/'}${archive}`;
  let sending: Promise<Dispatcher> | null = null;
  return {
    address,
    ask: async (archive, from, signal) => {
      const url = new URL(address(archive));
      const isOwn = url.origin === new URL(base.url).origin;
      sending ??= dispatcherFor(place);
      const dispatcher = await sending;
      const { statusCode, headers, body } = await dispatcher
        .request({
          ...{ origin: url.origin, path: `${url.pathname}${url.search}`, method: 'GET', signal },
          headers: {
            // Archives are checked as they are stored; nothing is to be packed or unpacked on the way.
            'accept-encoding': 'identity',
            ...(from === 0 ? {} : { range: `bytes=${from}-` }),
            ...(isOwn && authorization !== null ? { authorization } : {}),
          },
        })
        .catch((error: unknown) => {
          if (signal.aborted || error instanceof RegistryError) throw error;
          throw unreachableRegistry(url.href, error);
        });
      return { status: statusCode, body: decoded(body, headers['content-encoding'], url.href) };
    },
  };
}

/** Unpacks a body that was packed on the way all the same. @throws RegistryError */
function decoded(body: Readable, coding: string | string[] | undefined, address: string): Readable {
  if (coding === undefined || coding === 'identity') return body;
  const decoder = typeof coding === 'string' ? DECODERS[coding.toLowerCase()] : undefined;
  if (decoder !== undefined)
    return pipeline(body, decoder(), () => undefined) as unknown as Readable;
  body.resume();
  throw new RegistryError(
    'REGISTRY_NONSENSE',
    `${address} is packed in a way that was not asked for (${String(coding)}).`,
  );
}

/** Content codings of HTTP (RFC 9110, section 8.4.1), and brotli (RFC 7932). */
const DECODERS: Readonly<Record<string, () => NodeJS.ReadWriteStream>> = {
  gzip: createGunzip,
  'x-gzip': createGunzip,
  deflate: createInflate,
  br: createBrotliDecompress,
};

/** Follows where it is led, to another origin without what lets one in. */
async function dispatcherFor({ ca }: RegistryPlace): Promise<Dispatcher> {
  const { interceptors } = await import('undici');
  const plain = await dispatcherThrough(ca === null ? null : await certificates(ca));
  return plain.compose(interceptors.redirect({ maxRedirections: MOST_REDIRECTIONS }));
}
