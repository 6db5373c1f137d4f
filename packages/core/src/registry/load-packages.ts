import type { PackageRecord, PackageRecords, RegistryPort } from './package-record.js';

/**
 * The records of these packages and of all that any of their releases names, at any depth. Asks in
 * rounds, each for all names not yet known. O(packages) asked names, as many rounds as the longest path.
 * @throws RegistryError from the port
 */
export async function loadPackages(
  roots: Iterable<string>,
  port: RegistryPort,
): Promise<PackageRecords> {
  const known = new Map<string, PackageRecord | null>();
  let wanted = [...new Set(roots)].sort();
  while (wanted.length > 0) {
    const next = new Set<string>();
    for (const [name, record] of await port.packages(wanted)) {
      known.set(name, record);
      for (const { needs } of record?.releases ?? []) for (const need of needs) next.add(need.name);
    }
    wanted = [...next].filter((name) => !known.has(name)).sort();
  }
  return known;
}
