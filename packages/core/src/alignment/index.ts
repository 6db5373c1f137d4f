export {
  AnswerIndex,
  isShared,
  requirementsByPackage,
  requirementsOn,
  alignmentRow,
  alignmentRows,
  spanOf,
  standRequirements,
  type RailMark,
  type RailReach,
  type RailRelease,
  type AlignmentCell,
  type AlignmentRow,
  type StandingRequirement,
} from './alignment-row.js';
export { copyDemands, type CopyDemand } from './copy-demands.js';
export { projectAlignment, type ProjectLine, type ProjectAlignment } from './project-alignment.js';
export { projectSums, type ProjectSum } from './project-sums.js';
export { behindNewest, releasesAhead, type Behind } from './releases-ahead.js';
