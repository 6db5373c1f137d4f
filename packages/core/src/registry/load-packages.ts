import type { PackageRecord, PackageRecords, RegistryPort, Release } from './package-record.js';

/** The packages whose records are needed to answer what a release requires; a peer that is optional is never supplied. */
export function namedPackages({ needs, peers }: Release): readonly string[] {
  if (peers.length === 0) return needs.map(({ name }) => name);
  return [...needs, ...peers.filter(({ isOptional }) => !isOptional)].map(({ name }) => name);
}

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
      for (const release of record?.releases ?? [])
        for (const named of namedPackages(release)) next.add(named);
    }
    wanted = [...next].filter((name) => !known.has(name)).sort();
  }
  return known;
}
