import { isShared, ROOT_FILE } from '@deep-ledger/core';
import type { Snapshot } from './snapshot.js';
import { sourceOf } from '../registry/registry.service.js';
import { sourcesOf } from '../registry/sources-of.js';
import type { WorkspaceCounts } from './workspace-counts.js';
import type {
  LockStateDto,
  RegistryLineDto,
  WorkspaceStateDto,
  WorkspaceSummaryDto,
} from './workspace.dto.js';
import type { WorkspaceEntity } from './workspace.entity.js';

export function toSummary(entity: WorkspaceEntity): WorkspaceSummaryDto {
  const { slug, name, address, branch, registries, openedAt } = entity;
  const places = Object.entries(registries).map(([called, { url }]) => ({ name: called, url }));
  return { slug, name, address, branch, registries: places, openedAt: openedAt.toISOString() };
}

/** In the order in which they decide. */
export function toRegistryLines(
  entity: WorkspaceEntity,
  { base: { workspace, lock } }: Snapshot,
): RegistryLineDto[] {
  const used = new Map<string, Set<string>>();
  for (const { name, registry } of lock?.resolution?.copies ?? [])
    used.set(registry, (used.get(registry) ?? new Set()).add(name));
  const sources = sourcesOf(entity, workspace);
  return sources.registries.map(({ name, patterns }) => {
    const source = sourceOf(sources, name);
    return {
      name,
      patterns: [...patterns],
      url: source?.url ?? null,
      hasCredentials: source?.credentials != null,
      packages: used.get(name)?.size ?? 0,
    };
  });
}

export function toState(
  entity: WorkspaceEntity,
  snapshot: Snapshot,
  { lastPost, ...counts }: WorkspaceCounts,
): WorkspaceStateDto {
  const { state, messages, unknown } = snapshot.registry;
  const rows = snapshot.base.rows.filter(isShared);
  return {
    ...toSummary(entity),
    ...counts,
    lastPost:
      lastPost === null
        ? null
        : {
            author: lastPost.author,
            subject: lastPost.message.split('\n', 1)[0]!,
            at: new Date(lastPost.at).toISOString(),
          },
    needsApproval: entity.needsApproval,
    bringIn: bringInState(snapshot),
    head: snapshot.head,
    readAt: snapshot.readAt.toISOString(),
    repositoryTrouble: snapshot.repositoryTrouble,
    projects: snapshot.base.workspace?.projects.length ?? 0,
    agreed: snapshot.base.workspace?.agreements.size ?? 0,
    alignmentRows: rows.length,
    outOfLine: rows.filter(({ off }) => off > 0).length,
    lock: toLock(snapshot),
    registryState: { state, messages: [...messages], unknown: [...unknown] },
    problems: [...snapshot.problems],
  };
}

function bringInState({ base }: Snapshot): WorkspaceStateDto['bringIn'] {
  if (base.unwritten.size > 0) return 'prepared';
  return base.files.has(ROOT_FILE) ? 'done' : 'needed';
}

function toLock({ base: { lock }, lockSum }: Snapshot): LockStateDto {
  return {
    state: lock?.state ?? 'broken',
    sum: lockSum,
    copies: lock?.resolution?.copies.length ?? null,
    reasons: [...(lock?.reasons ?? [])],
  };
}
