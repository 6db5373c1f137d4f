import { RegistryError } from '@deep-ledger/core';

/** The answer of a registry's `/changes`: how far it goes, and the packages that changed, each once. */
export interface Changes {
  readonly cursor: string;
  readonly names: readonly string[];
}

/** @throws RegistryError when it is no such answer */
export function changesIn(url: string, answer: unknown): Changes {
  const { cursor, changes } = (answer ?? {}) as { cursor?: unknown; changes?: unknown };
  const isRead =
    typeof cursor === 'string' &&
    Array.isArray(changes) &&
    changes.every((change) => typeof (change as { name?: unknown } | null)?.name === 'string');
  if (!isRead)
    throw new RegistryError(
      'REGISTRY_NONSENSE',
      `${url}/changes does not answer with a cursor and changes. Is this address a registry?`,
    );
  const names = new Set((changes as readonly { name: string }[]).map(({ name }) => name));
  return { cursor, names: [...names] };
}
