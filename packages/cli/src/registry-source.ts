import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  readPackageRecord,
  RegistryError,
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
    return recordOf(file, text);
  };
}

function overHttp(url: string): Load {
  return async (name) => {
    const address = `${url}/packages/${encodeURIComponent(name)}`;
    const response = await fetch(address, { signal: AbortSignal.timeout(TIMEOUT_MS) }).catch(
      (error: unknown) => {
        const { cause, message } = error as Error & { cause?: { code?: string } };
        throw new RegistryError(
          'REGISTRY_DOWN',
          `${address} cannot be reached (${cause?.code ?? message}). Is the registry running?`,
        );
      },
    );
    if (response.status === 404) return null;
    if (!response.ok)
      throw new RegistryError(
        'REGISTRY_DOWN',
        `${address} answers with status ${response.status}.`,
      );
    return recordOf(address, await response.text());
  };
}

function recordOf(place: string, text: string): PackageRecord {
  let document: unknown;
  try {
    document = JSON.parse(text);
  } catch {
    throw new RegistryError(
      'REGISTRY_NONSENSE',
      `${place} is not JSON ("${text.slice(0, 40)}"). Is this a registry?`,
    );
  }
  const reading = readPackageRecord(document);
  if (reading.ok) return reading.record;
  const { pointer, message } = reading.problem;
  throw new RegistryError(
    'REGISTRY_NONSENSE',
    `${place} is not a package document; at ${pointer || '/'}: ${message}.`,
  );
}
