import { jsonFault } from './json-limits.js';
import { RegistryError, type PackageRecord } from './package-record.js';
import type { VersionScheme } from '../version/index.js';
import { readPackageRecord } from './read-package-record.js';

/**
 * The record in a registry's answer about one package.
 * @param place address or file that it came from, for messages
 * @param scheme of the registry's versions
 * @throws RegistryError if it is no document, or that of another package
 */
export function recordOfDocument(
  place: string,
  name: string,
  document: unknown,
  scheme: VersionScheme,
): PackageRecord {
  const reading = readPackageRecord(document, scheme);
  if (!reading.ok) {
    const { pointer, message } = reading.problem;
    throw new RegistryError(
      'REGISTRY_NONSENSE',
      `${place} is not a package document; ${pointer === '' ? 'the whole' : `at ${pointer}`}: ${message}.`,
    );
  }
  if (reading.record.name === name) return reading.record;
  throw new RegistryError(
    'REGISTRY_NONSENSE',
    `${place} answers with the document of ${reading.record.name}.`,
  );
}

/**
 * The JSON in a registry's answer.
 * @throws RegistryError if it is none
 */
export function parseRegistryJson(place: string, text: string): unknown {
  const fault = jsonFault(text);
  if (fault !== null)
    throw new RegistryError(
      'REGISTRY_NONSENSE',
      `${place} answers with ${fault}, which no registry document has.`,
    );
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw new RegistryError(
      'REGISTRY_NONSENSE',
      `${place} answers with something that is not JSON ("${text.slice(0, 40)}"). Is this a registry?`,
    );
  }
}

/** What a failed `fetch` means. */
export function unreachableRegistry(place: string, error: unknown): RegistryError {
  const { cause, message } = error as Error & { cause?: { code?: string } };
  return new RegistryError(
    'REGISTRY_DOWN',
    `${place} cannot be reached (${cause?.code ?? message}). Is the registry running?`,
  );
}
