import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  parseRegistryJson,
  recordOfDocument,
  RegistryError,
  unreachableRegistry,
  type PackageRecord,
  type RegistryPort,
} from '@deep-ledger/core';

const TIMEOUT_MS = 10_000;

/** The registry that an address or a folder of documents stands for. */
export function registrySource(place: string): RegistryPort {
  const isAddress = /^https?:\/\//.test(place);
  const load = isAddress ? overHttp(place.replace(/\/+$/, '')) : fromFolder(place);
  return {
    packages: async (names) =>
      new Map(await Promise.all(names.map(async (name) => [name, await load(name)] as const))),
  };
}

type Load = (name: string) => Promise<PackageRecord | null>;

function fromFolder(folder: string): Load {
  return async (name) => {
    const file = join(folder, `${name}.json`);
    let text: string;
    try {
      text = await readFile(file, 'utf8');
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
      throw new RegistryError(
        'REGISTRY_DOWN',
        `${file} cannot be read: ${(error as Error).message}.`,
      );
    }
    return recordOfDocument(file, name, parseRegistryJson(file, text));
  };
}

function overHttp(url: string): Load {
  return async (name) => {
    const address = `${url}/packages/${encodeURIComponent(name)}`;
    const response = await fetch(address, { signal: AbortSignal.timeout(TIMEOUT_MS) }).catch(
      (error: unknown) => {
        throw unreachableRegistry(address, error);
      },
    );
    if (response.status === 404) return null;
    if (!response.ok)
      throw new RegistryError(
        'REGISTRY_DOWN',
        `${address} answers with status ${response.status}.`,
      );
    return recordOfDocument(address, name, parseRegistryJson(address, await response.text()));
  };
}
