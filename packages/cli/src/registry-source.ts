import type { RegistryPort } from '@deep-ledger/core';
import { registryPort, userCacheFolder } from '@deep-ledger/registry-client';

export interface RegistryOptions {
  /** Address of a registry, or a folder of its documents. */
  readonly registry: string;
  /** Ask nobody; take the documents that were fetched before. */
  readonly offline?: true;
}

/** The registry that the options name, with documents kept below the user's cache folder. */
export function registrySource({ registry, offline }: RegistryOptions): RegistryPort {
  return registryPort(registry, {
    cacheFolder: userCacheFolder(process.env),
    isOffline: offline === true,
  });
}
