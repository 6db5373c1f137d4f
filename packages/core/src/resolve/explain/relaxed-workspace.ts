import { policyOf, type CopiesPolicy, type PackagePolicy } from '../../manifest/index.js';
import { requireRange, requireVersion } from '../../version/index.js';
import type { Meaning, Requirement, Workspace } from '../../workspace/index.js';

/** One change to what a workspace asks for. */
export type Change =
  | {
      readonly kind: 'range';
      /** Requirements on one package that ask for the same. */
      readonly requirements: readonly Requirement[];
      readonly from: string;
      readonly to: string;
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
  | { readonly kind: 'minimum-age'; readonly name: string; readonly from: number };

/** The workspace as it would be read after these changes. */
export function relaxed(workspace: Workspace, changes: readonly Change[]): Workspace {
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
  }
}

function withPolicy(workspace: Workspace, name: string, policy: Partial<PackagePolicy>): Workspace {
  const ofPackage = new Map(workspace.policy.ofPackage);
  const { copies, prereleases, minimumAgeDays } = policyOf(workspace.policy, name);
  ofPackage.set(name, { copies, prereleases, minimumAgeDays, ...policy });
  return { ...workspace, policy: { ...workspace.policy, ofPackage } };
}

/** A requirement that takes the shared version changes with all that take it. */
function withRange(
  workspace: Workspace,
  requirements: readonly Requirement[],
  text: string,
): Workspace {
  const { name } = requirements[0]!;
  const range = requireRange(text, policyOf(workspace.policy, name).prereleases);
  const meaning: Meaning = { kind: 'range', text, range };
  const isShared = requirements.some(({ written }) => written === 'shared');
  const isMeant = (one: Requirement): boolean =>
    one.name === name && (requirements.includes(one) || (isShared && one.written === 'shared'));
  const projects = workspace.projects.map((project) =>
    project.requirements.some(isMeant)
      ? {
          ...project,
          requirements: project.requirements.map((one) =>
            isMeant(one)
              ? { ...one, meaning, written: one.written === 'shared' ? 'shared' : text }
              : one,
          ),
        }
      : project,
  );
  return { ...workspace, projects };
}
