export {
  AnswerIndex,
  requirementsByPackage,
  sheetRow,
  sheetRows,
  spanOf,
  standRequirements,
  type RailMark,
  type RailReach,
  type RailRelease,
  type SheetRow,
  type StandingRequirement,
} from './sheet-row.js';
export { copyDemands, type CopyDemand } from './copy-demands.js';
