import type { Workspace } from '@deep-ledger/core';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { RegistrySources } from './registry.service.js';

/** The registries of a workspace as it was read; where it could not be, none. */
export function sourcesOf(
  { registries: known }: Pick<WorkspaceEntity, 'registries'>,
  workspace: Pick<Workspace, 'registries' | 'shapes'> | null,
): RegistrySources {
  return {
    registries: workspace?.registries ?? [],
    shapes: workspace?.shapes.registries ?? new Map(),
    known,
  };
}
