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
  const { where, document } = packageDocuments(place, settings);
  const { versions = 'semver' } = settings;
  const load = async (name: string): Promise<PackageRecord | null> => {
    const body = await document(name);
    return body === null ? null : recordOfDocument(where(name), name, body, versions);
  };
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

/** The documents of packages as a registry has them. */
export interface PackageDocuments {
  /** An address or a file; may be shown. */
  readonly where: (name: string) => string;
  /** Null: there is none of that name. @throws RegistryError */
  readonly document: (name: string) => Promise<unknown>;
}

/** The documents at an address or in a folder. */
export function packageDocuments(
  place: RegistryPlace,
  settings: PortSettings = {},
): PackageDocuments {
  const { cacheFolder, isOffline = false, shape, versions = 'semver' } = settings;
  const address = addressOf(place.address);
  if (address === null) {
    const folder = new FolderRegistry(place.address);
    return {
      where: (name) => folder.file(name),
      document: (name) => folder.document(name),
    };
  }
  const registry = httpRegistryAt(place, address, settings);
  const cache =
    cacheFolder === undefined
      ? null
      : new DocumentCache(
          cacheFolder,
          `${address.url}${shape?.document ?? ''}${versions === 'semver' ? '' : `#${versions}`}`,
        );
  const document = async (name: string): Promise<unknown> => {
    const kept = (await cache?.read(name)) ?? null;
    if (isOffline) {
      if (kept !== null) return kept.body;
      throw new RegistryError(
        'REGISTRY_DOWN',
        `The document of ${name} was never fetched from ${address.url}. Run once without --offline.`,
      );
    }
    const answer = await registry.document(name, kept?.body == null ? null : kept.etag);
    if (answer.kind === 'unchanged') return kept!.body;
    const found = answer.kind === 'found' ? answer : { body: null, etag: null };
    await cache?.write(name, { etag: found.etag, body: found.body });
    return found.body;
  };
  return { where: (name) => registry.documentAddress(name), document };
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
