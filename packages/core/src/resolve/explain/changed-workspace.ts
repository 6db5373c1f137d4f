import { type CopiesPolicy, type PackagePolicy, policyOf, rangeFor } from '../../manifest/index.js';
import { requireVersion } from '../../version/index.js';
import type { Meaning, Requirement, Workspace } from '../../workspace/index.js';

/** One change to what a workspace asks for. */
export type Change =
  | {
      readonly kind: 'range';
      /** Requirements on one package that ask for the same. */
      readonly requirements: readonly Requirement[];
      readonly from: string;
      readonly to: string;
      /** Does the new range admit nothing of the old one? */
      readonly isElsewhere: boolean;
    }
  | {
      readonly kind: 'copies';
      readonly name: string;
      readonly from: CopiesPolicy;
      readonly to: CopiesPolicy;
    }
  | {
      readonly kind: 'platform';
      readonly name: string;
      readonly from: string | null;
      readonly to: string;
    }
  | { readonly kind: 'pin'; readonly name: string; readonly from: string }
  | { readonly kind: 'minimum-age'; readonly name: string; readonly from: number }
  /** Peers that are not met are reported, not refused. */
  | { readonly kind: 'peers' };

/** The workspace as it would be read after these changes. */
export function changedWorkspace(workspace: Workspace, changes: readonly Change[]): Workspace {
  return changes.reduce(change, workspace);
}

function change(workspace: Workspace, one: Change): Workspace {
  switch (one.kind) {
    case 'range':
      return withRange(workspace, one.requirements, one.to);
    case 'copies':
      return withPolicy(workspace, one.name, { copies: one.to });
    case 'minimum-age':
      return withPolicy(workspace, one.name, { minimumAgeDays: 0 });
    case 'platform': {
      const platform = new Map(workspace.platform).set(one.name, requireVersion(one.to));
      return { ...workspace, platform };
    }
    case 'pin': {
      const pins = new Map(workspace.shared.pins);
      pins.delete(one.name);
      return { ...workspace, shared: { ...workspace.shared, pins } };
    }
    case 'peers':
      return { ...workspace, policy: { ...workspace.policy, peers: 'report' } };
  }
}

function withPolicy(workspace: Workspace, name: string, policy: Partial<PackagePolicy>): Workspace {
  const ofPackage = new Map(workspace.policy.ofPackage);
  const { copies, prereleases, minimumAgeDays } = policyOf(workspace.policy, name);
  ofPackage.set(name, { copies, prereleases, minimumAgeDays, ...policy });
  return { ...workspace, policy: { ...workspace.policy, ofPackage } };
}

/**
 * A requirement that takes the shared version changes with all that take it, and with those on the other packages of
 * its lockstep set.
 */
function withRange(
  workspace: Workspace,
  requirements: readonly Requirement[],
  text: string,
): Workspace {
  const { name } = requirements[0]!;
  const isShared = requirements.some(
    ({ written, isEverywhere }) => written === 'shared' || isEverywhere,
  );
  const set = isShared ? (workspace.agreements.get(name)?.set ?? null) : null;
  const isMeant = (one: Requirement): boolean => {
    if (requirements.includes(one)) return true;
    if (!isShared || !(one.written === 'shared' || one.isEverywhere)) return false;
    return one.name === name || (set !== null && workspace.agreements.get(one.name)?.set === set);
  };
  const meaningOf = (one: Requirement): Meaning => ({
    kind: 'range',
    text,
    range: rangeFor(workspace.policy, one.name, text),
  });
  const projects = workspace.projects.map((project) =>
    project.requirements.some(isMeant)
      ? {
          ...project,
          requirements: project.requirements.map((one) =>
            isMeant(one)
              ? {
                  ...one,
                  meaning: meaningOf(one),
                  written: one.written === 'shared' ? 'shared' : text,
                }
              : one,
          ),
        }
      : project,
  );
  return { ...workspace, projects };
}
