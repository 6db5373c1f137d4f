import { levelledWorkspace } from '../draft/index.js';
import { upgradeStep, type Move } from '../edit/index.js';
import { rangeFor } from '../manifest/index.js';
import { SHARED_FILE, type Requirement, type Workspace } from '../workspace/index.js';

/** A workspace after moves, and the hand-written files that they change. */
export interface Upgraded {
  readonly workspace: Workspace;
  readonly files: ReadonlySet<string>;
}

/**
 * The workspace as it would be read after the edit that makes these moves, made from the model instead of the files.
 * O(moves x requirements of all projects).
 */
export function upgradedWorkspace(start: Workspace, moves: readonly Move[]): Upgraded {
  let workspace = start;
  const files = new Set<string>();
  // As with the edit, what has to be written is told by the workspace before any of the moves.
  const steps = moves.map((move) => [move, upgradeStep(start, move)] as const);
  for (const [{ package: name }, { shared, own }] of steps) {
    if (shared !== null) {
      workspace = levelledWorkspace(workspace, name, { range: shared, takers: [] });
      for (const file of sharedFiles(start, name)) files.add(file);
    }
    for (const [requirement, range] of own) {
      workspace = withRange(workspace, requirement, range);
      files.add(requirement.file);
    }
  }
  return { workspace, files };
}

/** The file that agrees on a package, and those that have no word for the shared version and so repeat its range. */
function sharedFiles({ shared, projects }: Workspace, name: string): readonly string[] {
  const repeating = projects.flatMap(({ foreign, requirements }) =>
    foreign.some(({ shape }) => shape.spelling.shared === null)
      ? requirements.filter((one) => one.name === name && one.written === 'shared')
      : [],
  );
  return [shared.shared.get(name)?.file ?? SHARED_FILE, ...repeating.map(({ file }) => file)];
}

function withRange(workspace: Workspace, old: Requirement, text: string): Workspace {
  const change = (one: Requirement): Requirement =>
    one.kind !== old.kind || one.name !== old.name || one.isEverywhere
      ? one
      : {
          ...one,
          written: text,
          meaning: { kind: 'range', text, range: rangeFor(workspace.policy, one.name, text) },
        };
  return {
    ...workspace,
    projects: workspace.projects.map((project) =>
      project.folder === old.project
        ? { ...project, requirements: project.requirements.map(change) }
        : project,
    ),
  };
}
