import {
  portOfRegistries,
  RegistryError,
  schemeOfRegistry,
  type RegistryPlace,
  type RegistryPort,
  type RegistryShape,
  type VersionScheme,
  type Workspace,
} from '@deep-ledger/core';
import { registryPort, userCacheFolder } from '@deep-ledger/registry-client';
import { registriesFile, registryPlaces } from './registry-places.js';

export interface RegistryOptions {
  /** Addresses of registries, or folders of their documents, each with `NAME=` before it where there are several. */
  readonly registry?: readonly string[];
  /** Ask nobody; take the documents that were fetched before. */
  readonly offline?: true;
}

/**
 * The registries of a workspace, with documents kept below the user's cache folder.
 * @param tell gets warnings
 * @throws UnreadableFile, RegistryError
 */
export async function registrySource(
  { registry = [], offline }: RegistryOptions,
  { registries, shapes }: Pick<Workspace, 'registries' | 'shapes'>,
  tell: (sentence: string) => void,
): Promise<RegistryPort> {
  const { env } = process;
  const places = await registryPlaces(registries, registry, env, tell);
  const ports = new Map<string, RegistryPort>();
  for (const [name, place] of places) {
    const versions = schemeOfRegistry(registries, name);
    ports.set(name, portAt(place, shapes.registries.get(name), versions, offline === true));
  }
  return portOfRegistries(registries, (name) => {
    const port = ports.get(name);
    if (port !== undefined) return port;
    throw new RegistryError(
      'REGISTRY_DOWN',
      `Nothing says where the registry ${name} is. Write --registry ${registries.length > 1 ? `${name}=` : ''}ADDRESS, or add ${name} = "ADDRESS" to ${registriesFile(env)}.`,
    );
  });
}

function portAt(
  place: RegistryPlace,
  shape: RegistryShape | undefined,
  versions: VersionScheme,
  isOffline: boolean,
): RegistryPort {
  const cacheFolder = userCacheFolder(process.env);
  return registryPort(place, {
    cacheFolder,
    isOffline,
    versions,
    ...(shape === undefined ? {} : { shape }),
  });
}
