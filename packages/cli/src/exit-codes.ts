/** What a command says by how it ends. */
export const EXIT = {
  /** All is well. */
  ok: 0,
  /** The lockfile does not answer the manifests, or cannot. */
  stale: 1,
  /** Something cannot be read: a file, the registry, the command itself. */
  unreadable: 2,
} as const;
