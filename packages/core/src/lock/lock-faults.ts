import { rangeFor, type Policy } from '../manifest/index.js';
import {
  PeerProviders,
  WantedSupplies,
  type AnsweredRequirement,
  type ProjectAnswers,
  type Resolution,
} from '../resolve/index.js';
import {
  matchingTargets,
  type Meaning,
  type Project,
  type Requirement,
  type Workspace,
} from '../workspace/index.js';
import { LockCheck, type AnswerableSkip } from './lock-check.js';

export type { AnswerableSkip };
import type { LockReason } from './lock-reason.js';
import { LockedCopies } from './locked-copies.js';
import { LockedPeers } from './locked-peers.js';
import { LOCK_FORMAT } from './print-lock.js';

/**
 * What does not hold in a resolution by itself: it is checked against manifests that require what it answers, under the settings
 * of a workspace. Nothing: it is the lockfile of those manifests. O(size).
 */
export function lockFaults(resolution: Resolution, workspace: Workspace): readonly LockReason[] {
  return checkOf(resolution, workspace).run();
}

/** The optional requirements that a resolution skips though it has a copy that answers them. O(size). */
export function answerableSkips(
  resolution: Resolution,
  workspace: Workspace,
): readonly AnswerableSkip[] {
  const check = checkOf(resolution, workspace);
  check.run();
  return check.answerableSkips;
}

/** The check against manifests that require what a resolution answers. */
function checkOf(resolution: Resolution, workspace: Workspace): LockCheck {
  const projects = resolution.projects.map((answers) => projectOf(answers, workspace));
  const reading = {
    resolution,
    format: LOCK_FORMAT,
    isCanonical: true,
    heads: new Map<never, never>(),
  };
  return new LockCheck({ ...workspace, projects, unreadable: [] }, new Map(), reading, null);
}

/** The ranges of peers that a project is to be supplied with. */
export interface WantedSupply {
  /** Its place among the resolution's projects. */
  readonly project: number;
  readonly name: string;
  readonly ranges: readonly string[];
}

/** What the copies of a resolution ask their projects to be supplied with, in no order. */
export function suppliesWanted(resolution: Resolution, policy: Policy): readonly WantedSupply[] {
  const source = new LockedPeers(resolution, new LockedCopies(resolution), policy);
  const wants = new WantedSupplies(new PeerProviders(source)).asked();
  return [...wants].flatMap(([name, ofName]) =>
    [...ofName].map(([project, texts]) => ({ project, name, ranges: [...texts].sort() })),
  );
}

function projectOf(
  { folder, name, version, requirements }: ProjectAnswers,
  workspace: Workspace,
): Project {
  return {
    folder,
    name,
    version,
    file: folder,
    requirements: requirements.map((one) => requirementOf(one, folder, workspace)),
    ...{ ships: 'app', implicit: [], foreign: [], unresolved: [] },
  };
}

function requirementOf(
  { kind, name, written, range, when, answer }: AnsweredRequirement,
  project: string,
  { policy, targets }: Workspace,
): Requirement {
  const meaning: Meaning =
    answer.kind === 'project'
      ? { kind: 'project', folder: answer.folder }
      : { kind: 'range', text: range ?? '', range: rangeFor(policy, name, range ?? '') };
  return {
    ...{ project, kind, name, written, meaning, when, targets: matchingTargets(targets, when) },
    ...{ isEverywhere: false, file: project, span: [0, 0], line: 1 },
  };
}
