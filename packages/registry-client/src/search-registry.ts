import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  matchingPackages,
  parseRegistryJson,
  readPackageRecord,
  readSearchPage,
  RegistryError,
  type FoundPackage,
  type RegistryPlace,
  type SearchPage,
} from '@deep-ledger/core';
import { addressOf } from './address.js';
import { httpRegistryAt, type PortSettings } from './registry-port.js';

/** What a registry finds by words. @throws RegistryError where it cannot be searched */
export async function searchRegistry(
  place: RegistryPlace,
  words: string,
  settings: PortSettings = {},
): Promise<SearchPage> {
  const address = addressOf(place.address);
  if (address === null) return searchFolder(place.address, words, settings);
  if (settings.shape !== undefined)
    throw new RegistryError(
      'REGISTRY_NONSENSE',
      `${address.url} speaks in its own way, in which it cannot be searched.`,
    );
  const registry = httpRegistryAt(place, address, settings);
  const path = `/packages?query=${encodeURIComponent(words)}&page=1`;
  return readSearchPage(`${address.url}/packages`, await registry.read(path));
}

async function searchFolder(
  folder: string,
  words: string,
  { versions = 'semver' }: PortSettings,
): Promise<SearchPage> {
  const files = await readdir(folder).catch(() => {
    throw new RegistryError('REGISTRY_DOWN', `${folder} is no folder of registry documents.`);
  });
  const packages: FoundPackage[] = [];
  for (const file of files.filter((one) => one.endsWith('.json'))) {
    const place = join(folder, file);
    const reading = readPackageRecord(
      parseRegistryJson(place, await readFile(place, 'utf8')),
      versions,
    );
    if (!reading.ok) continue;
    const { name, summary, releases } = reading.record;
    const newest = releases.at(-1);
    packages.push({
      name,
      summary,
      newest: newest?.text ?? null,
      published: newest?.published.slice(0, 10) ?? null,
      licence: newest?.licence ?? null,
    });
  }
  const found = matchingPackages(packages, words);
  return { total: found.length, packages: found };
}
