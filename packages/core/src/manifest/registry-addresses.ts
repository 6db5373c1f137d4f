import type { ManifestProblem } from './manifest-problem.js';
import { TableReader } from './table-reader.js';
import { parseToml } from './toml-document.js';

/** Where a registry is, and how one is let in; of its credentials there is a token, or a user and a password, or none. */
export interface RegistryPlace {
  /** An http address, or a folder of documents. */
  readonly address: string;
  readonly token: string | null;
  readonly user: string | null;
  readonly password: string | null;
  /** A file of certificates in PEM that are trusted beside the usual ones. */
  readonly ca: string | null;
}

/** Reads a user's `registries.toml`: registries by name, each an address or a table. */
export function readRegistryPlaces(text: string): {
  readonly places: ReadonlyMap<string, RegistryPlace>;
  readonly problems: readonly ManifestProblem[];
} {
  const parsed = parseToml(text);
  if (!parsed.ok) {
    const { message, span } = parsed;
    return { places: new Map(), problems: [{ code: 'SYNTAX', message, span }] };
  }
  const problems: ManifestProblem[] = [];
  const reader = new TableReader(parsed.root, problems);
  const places = new Map<string, RegistryPlace>();
  for (const { key, value } of parsed.root.entries.values()) {
    if (value.kind === 'string') {
      places.set(key, placeAt(value.value as string));
      continue;
    }
    const one = reader.tableAt(key);
    if (one === null) continue;
    one.allow(['address', 'token', 'user', 'password', 'ca']);
    const address = one.requiredString('address', '`address = "https://registry.example"`');
    const of = (name: string): string | null =>
      (one.string(name)?.value as string | undefined) ?? null;
    if (address === null) continue;
    places.set(key, {
      ...placeAt(address.value as string),
      token: of('token'),
      user: of('user'),
      password: of('password'),
      ca: of('ca'),
    });
  }
  return { places, problems };
}

/** A place without credentials of its own. */
export function placeAt(address: string): RegistryPlace {
  return { address, token: null, user: null, password: null, ca: null };
}
