import { readFile } from 'node:fs/promises';
import pLimit from 'p-limit';
import {
  recordOfDocument,
  RegistryError,
  type PackageRecord,
  type RegistryPlace,
  type RegistryShape,
  type RegistryPort,
  type VersionScheme,
} from '@deep-ledger/core';
import { addressOf, authorizationOf, type RegistryAddress } from './address.js';
import { DocumentCache } from './document-cache.js';
import { FolderRegistry } from './folder-registry.js';
import { HttpRegistry, type HttpSettings } from './http-registry.js';

export interface PortSettings {
  /** Where documents are kept between runs; without it they are not. */
  readonly cacheFolder?: string;
  /** Ask nobody; take what is kept. */
  readonly isOffline?: boolean;
  readonly http?: Partial<HttpSettings>;
  /** Where the registry does not speak as ours do. */
  readonly shape?: RegistryShape;
  /** How it writes versions; without it as SemVer does. */
  readonly versions?: VersionScheme;
}

/** Documents that are worked on at once: far fewer files than systems let one program open. */
const AT_ONCE = 64;

/** The registry at an address or in a folder of documents. */
export function registryPort(place: RegistryPlace, settings: PortSettings = {}): RegistryPort {
  const load = loader(place, settings);
  const limit = pLimit(AT_ONCE);
  return {
    packages: async (names) =>
      new Map(
        await Promise.all(
          names.map((name) => limit(async () => [name, await load(name)] as const)),
        ),
      ),
  };
}

type Load = (name: string) => Promise<PackageRecord | null>;

/** The registry at an address, with what lets one in. */
export function httpRegistryAt(
  place: RegistryPlace,
  address: RegistryAddress,
  { http, shape, versions = 'semver' }: PortSettings,
): HttpRegistry {
  return new HttpRegistry(
    { ...address, authorization: authorizationAt(place) ?? address.authorization },
    { ...http, ca: place.ca === null ? null : () => certificates(place.ca!) },
    shape ?? null,
    versions,
  );
}

function loader(place: RegistryPlace, settings: PortSettings): Load {
  const { cacheFolder, isOffline = false, shape, versions = 'semver' } = settings;
  const address = addressOf(place.address);
  if (address === null) {
    const folder = new FolderRegistry(place.address, versions);
    return (name) => folder.record(name);
  }
  const registry = httpRegistryAt(place, address, settings);
  const cache =
    cacheFolder === undefined
      ? null
      : new DocumentCache(
          cacheFolder,
          `${address.url}${shape?.document ?? ''}${versions === 'semver' ? '' : `#${versions}`}`,
        );
  return async (name) => {
    const where = registry.documentAddress(name);
    const recordOf = (body: unknown): PackageRecord | null =>
      body === null ? null : recordOfDocument(where, name, body, versions);
    const kept = (await cache?.read(name)) ?? null;
    if (isOffline) {
      if (kept !== null) return recordOf(kept.body);
      throw new RegistryError(
        'REGISTRY_DOWN',
        `The document of ${name} was never fetched from ${address.url}. Run once without --offline.`,
      );
    }
    const answer = await registry.document(name, kept?.body == null ? null : kept.etag);
    if (answer.kind === 'unchanged') return recordOf(kept!.body);
    const body = answer.kind === 'found' ? answer.body : null;
    const record = recordOf(body);
    await cache?.write(name, { etag: answer.kind === 'found' ? answer.etag : null, body });
    return record;
  };
}

export function authorizationAt({ token, user, password }: RegistryPlace): string | null {
  if (token !== null) return authorizationOf({ token });
  return user === null ? null : authorizationOf({ user, password: password ?? '' });
}

export async function certificates(file: string): Promise<string> {
  return readFile(file, 'utf8').catch((error: unknown) => {
    throw new RegistryError(
      'REGISTRY_DOWN',
      `The certificates in ${file} cannot be read: ${(error as Error).message}.`,
    );
  });
}
