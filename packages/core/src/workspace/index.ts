export type {
  Agreement,
  FileProblem,
  ForeignFile,
  Meaning,
  Project,
  Requirement,
  UnresolvedRequirement,
  Workspace,
  WorkspaceFiles,
} from './workspace.js';
export { PinScope } from './pin-scope.js';
export {
  isBlocking,
  isOwnFile,
  LOCK_FILE,
  PROJECT_FILE,
  ROOT_FILE,
  SHAPES_FILE,
  SHARED_FILE,
  workspaceFileTest,
} from './workspace.js';
export { ownersByFolder } from './owners-of.js';
export { matchingTargets } from './matching-targets.js';
export { manifestPath } from './project-builder.js';
export { aheadTask, readAhead, type AheadTask, type ReadAhead } from './read-ahead.js';
export { readWorkspace, type WorkspaceReading } from './read-workspace.js';
export {
  placeOf,
  placeProblem,
  placeProblems,
  Places,
  type PlacedProblem,
} from './place-problem.js';
export { standingOf, type Standing } from './standing.js';
export { shapesIn, unitsOfFile } from './units-of-file.js';
export { ownRangesPolicy, refusedOwnRanges, type OwnRange } from './own-ranges.js';
