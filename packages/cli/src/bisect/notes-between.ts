import {
  compareVersions,
  readNotes,
  recordOfDocument,
  requireVersion,
  RegistryError,
  registryOf,
  schemeOfRegistry,
  type LockDifference,
  type Workspace,
} from '@deep-ledger/core';
import { packageDocuments, userCacheFolder } from '@deep-ledger/registry-client';
import { registryPlaces } from '../registry-places.js';
import type { RegistryOptions } from '../registry-source.js';

/** What a release says of itself. */
export interface ToldNotes {
  readonly version: string;
  readonly text: string;
}

/** Releases whose notes are told, the newest. */
const MOST = 5;

/**
 * The notes of the releases after one end of a difference up to the other, the newest first.
 * @returns why not, where the registry cannot be asked
 */
export async function notesBetween(
  { name, from, to }: LockDifference,
  { registries, shapes }: Workspace,
  options: RegistryOptions,
): Promise<readonly ToldNotes[] | string> {
  const registry = registryOf(registries, name);
  if (to === null || registry === null) return [];
  try {
    const places = await registryPlaces(
      registries,
      options.registry ?? [],
      process.env,
      () => undefined,
    );
    const place = places.get(registry);
    if (place === undefined) return `nothing says where the registry ${registry} is`;
    const shape = shapes.registries.get(registry);
    const versions = schemeOfRegistry(registries, registry);
    const { document, where } = packageDocuments(place, {
      cacheFolder: userCacheFolder(process.env),
      isOffline: options.offline === true,
      versions,
      ...(shape === undefined ? {} : { shape }),
    });
    const body = await document(name);
    if (body === null) return [];
    const [least, most] = [from, to].map((one) => (one === null ? null : requireVersion(one)));
    return recordOfDocument(where(name), name, body, versions)
      .releases.filter(
        ({ version }) =>
          compareVersions(version, most!) <= 0 &&
          (least == null || compareVersions(version, least) > 0),
      )
      .reverse()
      .flatMap(({ text: version }) => {
        const notes = readNotes(body, version);
        return notes === null ? [] : [{ version, text: notes.text }];
      })
      .slice(0, MOST);
  } catch (error) {
    if (error instanceof RegistryError) return error.message;
    throw error;
  }
}
