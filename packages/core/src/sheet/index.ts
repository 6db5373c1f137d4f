export {
  AnswerIndex,
  isShared,
  requirementsByPackage,
  requirementsOn,
  sheetRow,
  sheetRows,
  spanOf,
  standRequirements,
  type RailMark,
  type RailReach,
  type RailRelease,
  type SheetCell,
  type SheetRow,
  type StandingRequirement,
} from './sheet-row.js';
export { copyDemands, type CopyDemand } from './copy-demands.js';
export { projectSheet, type ProjectLine, type ProjectSheet } from './project-sheet.js';
export { behindNewest, releasesAhead, type Behind } from './releases-ahead.js';
