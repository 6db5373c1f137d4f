import { rangeFor } from '../../manifest/index.js';
import { rangeContains, requireVersion } from '../../version/index.js';
import type { Workspace } from '../../workspace/index.js';
import type { Answer, AnsweredRequirement, Resolution } from '../model/resolution.js';

/** Another release for what a copy answers, as far as ranges admit it. */
export interface RePick {
  readonly name: string;
  readonly from: string;
  readonly to: string;
}

/** The answers with some picked otherwise, for a resolution to hold on to. O(requirements). */
export function withRePicks(
  workspace: Workspace,
  resolution: Resolution,
  rePicks: readonly RePick[],
): Resolution {
  const byKey = new Map(rePicks.map((one) => [`${one.name} ${one.from}`, one]));
  const change = (requirement: AnsweredRequirement): AnsweredRequirement => {
    const { name, range, answer } = requirement;
    if (answer.kind !== 'copy' || range === null) return requirement;
    const rePick = byKey.get(`${name} ${answer.version}`);
    if (rePick === undefined || !isAdmitted(workspace, name, range, rePick.to)) return requirement;
    const changed: Answer = { kind: 'copy', version: rePick.to };
    return { ...requirement, answer: changed };
  };
  const each = <T extends { readonly requirements: readonly AnsweredRequirement[] }>(
    one: T,
  ): T => ({
    ...one,
    requirements: one.requirements.map(change),
  });
  return { projects: resolution.projects.map(each), copies: resolution.copies.map(each) };
}

/** Does a range of a package admit a version, under the workspace's policy? */
export function isAdmitted(workspace: Workspace, name: string, range: string, to: string): boolean {
  return rangeContains(rangeFor(workspace.policy, name, range), requireVersion(to));
}
