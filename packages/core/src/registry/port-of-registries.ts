import { registryOf, type Registries } from '../manifest/index.js';
import type { PackageRecord, RegistryPort } from './package-record.js';

/**
 * A port that asks each name of the one registry that it belongs to, and never of another. A name that belongs to none
 * is in no registry.
 * @param portOf the port of a registry by its name; may throw a RegistryError for one of which no address is known
 */
export function portOfRegistries(
  registries: Registries,
  portOf: (registry: string) => RegistryPort,
): RegistryPort {
  return {
    packages: async (names) => {
      const found = new Map<string, PackageRecord | null>();
      const asked = new Map<string, string[]>();
      for (const name of names) {
        const registry = registryOf(registries, name);
        if (registry === null) found.set(name, null);
        else asked.set(registry, [...(asked.get(registry) ?? []), name]);
      }
      await Promise.all(
        [...asked].map(async ([registry, own]) => {
          for (const [name, record] of await portOf(registry).packages(own))
            found.set(name, record);
        }),
      );
      return found;
    },
  };
}
