import { requirementsByPackage } from '../sheet/index.js';
import { standingOf, type Workspace } from '../workspace/index.js';
import type { Edit } from './edit.js';

/** The range around a version in the manner of the agreement there is: caret, tilde or exact; caret without one. */
export function rangeLike(agreed: string | null, version: string): string {
  if (agreed === null || agreed.startsWith('^')) return `^${version}`;
  if (agreed.startsWith('~')) return `~${version}`;
  return /^\d+\.\d+\.\d+/.test(agreed) && !/\s/.test(agreed) ? version : `^${version}`;
}

/**
 * The edits that level a package at a version: the shared version is set around it, and every project
 * that writes a range of its own takes it, unless an exception lets it depart.
 */
export function levelEdits(
  workspace: Workspace,
  name: string,
  version: string,
  today: string,
): readonly Edit[] {
  const range = rangeLike(workspace.agreements.get(name)?.text ?? null, version);
  const own = (requirementsByPackage(workspace).get(name) ?? []).filter(
    (requirement) =>
      !requirement.isEverywhere &&
      requirement.written !== 'shared' &&
      standingOf(workspace, requirement, today).kind !== 'excepted',
  );
  const projects = [...new Set(own.map(({ project }) => project))].sort();
  const set: Edit = { kind: 'set-shared', package: name, range };
  return projects.length === 0 ? [set] : [set, { kind: 'take-shared', package: name, projects }];
}

/** The edits that are not about a package. */
export function editsWithout(edits: readonly Edit[], name: string): readonly Edit[] {
  return edits.filter((edit) => edit.package !== name);
}
