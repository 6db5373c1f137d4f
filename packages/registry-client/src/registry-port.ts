import pLimit from 'p-limit';
import {
  recordOfDocument,
  RegistryError,
  type PackageRecord,
  type RegistryPort,
} from '@deep-ledger/core';
import { addressOf } from './address.js';
import { DocumentCache } from './document-cache.js';
import { FolderRegistry } from './folder-registry.js';
import { HttpRegistry, type HttpSettings } from './http-registry.js';

export interface PortSettings {
  /** Where documents are kept between runs; without it they are not. */
  readonly cacheFolder?: string;
  /** Ask nobody; take what is kept. */
  readonly isOffline?: boolean;
  readonly http?: Partial<HttpSettings>;
}

/** Documents that are worked on at once: far fewer files than systems let one program open. */
const AT_ONCE = 64;

/** The registry that an address or a folder of documents stands for. */
export function registryPort(place: string, settings: PortSettings = {}): RegistryPort {
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

function loader(place: string, { cacheFolder, isOffline = false, http }: PortSettings): Load {
  const address = addressOf(place);
  if (address === null) {
    const folder = new FolderRegistry(place);
    return (name) => folder.record(name);
  }
  const registry = new HttpRegistry(address, http);
  const cache = cacheFolder === undefined ? null : new DocumentCache(cacheFolder, address.url);
  return async (name) => {
    const where = registry.documentAddress(name);
    const recordOf = (body: unknown): PackageRecord | null =>
      body === null ? null : recordOfDocument(where, name, body);
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
