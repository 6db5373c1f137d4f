import type { Policy } from '../manifest/index.js';
import { standingOf } from './standing.js';
import type { Requirement, Workspace } from './workspace.js';

/** A range that a project writes of its own for a package that is agreed on. */
export interface OwnRange {
  readonly requirement: Requirement;
  /** The shared version. */
  readonly agreed: string;
}

/** What a workspace says to such ranges in a project: they are reported, or refused. */
export function ownRangesPolicy(
  { ownRanges, ofProject }: Policy,
  project: { readonly folder: string; readonly name: string },
): Policy['ownRanges'] {
  return ofProject.get(project.folder) ?? ofProject.get(project.name) ?? ownRanges;
}

/**
 * Ranges of their own that projects write where the policy refuses them: for packages that are agreed on, and without an
 * exception that holds on a day. Peers are left out: what a library works beside is wider than what the team agrees on.
 * O(requirements).
 */
export function refusedOwnRanges(workspace: Workspace, today: string): readonly OwnRange[] {
  const { policy, projects, agreements } = workspace;
  if (policy.ownRanges === 'reported' && policy.ofProject.size === 0) return [];
  return projects
    .filter((project) => ownRangesPolicy(policy, project) === 'refused')
    .flatMap(({ requirements }) =>
      requirements.flatMap((requirement): OwnRange[] => {
        const agreed = agreements.get(requirement.name)?.text;
        if (agreed === undefined || requirement.isEverywhere || requirement.kind === 'peer')
          return [];
        const { kind } = standingOf(workspace, requirement, today);
        return kind === 'off' || kind === 'equals' ? [{ requirement, agreed }] : [];
      }),
    );
}
