import {
  checkLockAgainst,
  disputedCopies,
  loadPackages,
  requiredPackages,
  type DisputedCopy,
  type LockState,
  type Workspace,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { registrySource } from './registry-source.js';

/** A lockfile's state, with the copies of which the registry says another integrity. */
export type Checked = LockState & { readonly disputed: readonly DisputedCopy[] };

/**
 * Whether locking again with what registries have would change a lockfile that answers its manifests.
 * @param consistent its state by manifests and lockfile alone
 * @param registry places of registries; none: those that are known
 * @throws RegistryError where a registry does not answer
 */
export async function checkAgainstRegistry(
  consistent: LockState,
  workspace: Workspace,
  files: WorkspaceFiles,
  { registry, offline, asOf }: { registry: readonly string[]; offline: boolean; asOf: string },
  tell: (sentence: string) => void,
): Promise<Checked> {
  const port = await registrySource(
    { registry, ...(offline ? { offline: true as const } : {}) },
    workspace,
    tell,
  );
  const records = await loadPackages(requiredPackages(workspace), port);
  const against = checkLockAgainst(workspace, files, { records, asOf }) ?? consistent;
  const { resolution } = against;
  return { ...against, disputed: resolution === null ? [] : disputedCopies(records, resolution) };
}
