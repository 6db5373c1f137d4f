import { reverseLinks, type Links } from '../links/index.js';
import type { CopyPeer, ProjectAnswers, Resolution } from '../resolve/index.js';
import { NO_COPY, type LockedCopies } from './locked-copies.js';

/** The ranges that copies ask of what each project must be supplied with: by folder, then name. */
export type AskedSupplies = ReadonlyMap<string, ReadonlyMap<string, ReadonlySet<string>>>;

interface Owners {
  /** The copies that require each copy. */
  readonly copies: Links;
  /** The projects that require each copy, or are supplied with it. */
  readonly projects: ReadonlyMap<number, readonly ProjectAnswers[]>;
}

/**
 * What a lockfile's copies ask of their projects because nothing on the way up a chain provides it.
 * For each peer and range O(owners above the copies that ask).
 */
export function askedSupplies(resolution: Resolution, copies: LockedCopies): AskedSupplies {
  const asked = new Map<string, Map<string, Set<string>>>();
  const groups = new Map<string, { readonly peer: CopyPeer; readonly copies: number[] }>();
  copies.copies.forEach(({ peers }, copy) => {
    for (const peer of peers) {
      if (peer.isOptional) continue;
      const key = `${peer.name} ${peer.range}`;
      const group = groups.get(key);
      if (group === undefined) groups.set(key, { peer, copies: [copy] });
      else group.copies.push(copy);
    }
  });
  if (groups.size === 0) return asked;
  const owners = ownersOf(resolution, copies);
  for (const { peer, copies: asking } of groups.values()) {
    for (const { folder } of projectsWithout(asking, peer.name, copies, owners)) {
      const byName = asked.get(folder) ?? new Map<string, Set<string>>();
      asked.set(folder, byName);
      byName.set(peer.name, (byName.get(peer.name) ?? new Set()).add(peer.range));
    }
  }
  return asked;
}

function ownersOf(resolution: Resolution, copies: LockedCopies): Owners {
  const projects = new Map<number, ProjectAnswers[]>();
  const add = (copy: number, project: ProjectAnswers): void => {
    const known = projects.get(copy);
    if (known === undefined) projects.set(copy, [project]);
    else known.push(project);
  };
  for (const project of resolution.projects) {
    for (const requirement of project.requirements) add(copies.answerTo(requirement), project);
    for (const { name, version } of project.supplied)
      if (version !== null) add(copies.at(name, version), project);
  }
  projects.delete(NO_COPY);
  return { copies: reverseLinks(copies.links()), projects };
}

function projectsWithout(
  from: readonly number[],
  name: string,
  copies: LockedCopies,
  owners: Owners,
): ReadonlySet<ProjectAnswers> {
  const found = new Set<ProjectAnswers>();
  const passed = new Set<ProjectAnswers>();
  const seen = new Set(from);
  const open = [...from];
  const { starts, targets } = owners.copies;
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    for (const project of owners.projects.get(next) ?? []) {
      if (passed.has(project)) continue;
      passed.add(project);
      if (!provides(project, name)) found.add(project);
    }
    for (let at = starts[next]!; at < starts[next + 1]!; at++) {
      const owner = targets[at]!;
      if (seen.has(owner)) continue;
      seen.add(owner);
      if (!provides(copies.copies[owner]!, name)) open.push(owner);
    }
  }
  return found;
}

function provides(owner: Pick<ProjectAnswers, 'requirements'>, name: string): boolean {
  return owner.requirements.some((one) => one.name === name && one.answer.kind !== 'skipped');
}
