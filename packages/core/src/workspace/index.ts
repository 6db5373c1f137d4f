export type {
  Agreement,
  FileProblem,
  Meaning,
  Project,
  Requirement,
  Workspace,
  WorkspaceFiles,
} from './workspace.js';
export {
  isBlocking,
  isWorkspaceFile,
  LOCK_FILE,
  PROJECT_FILE,
  ROOT_FILE,
  SHARED_FILE,
} from './workspace.js';
export { matchingTargets } from './matching-targets.js';
export { manifestPath, readWorkspace, type WorkspaceReading } from './read-workspace.js';
export {
  placeOf,
  placeProblem,
  placeProblems,
  Places,
  type PlacedProblem,
} from './place-problem.js';
export { standingOf, type Standing } from './standing.js';
