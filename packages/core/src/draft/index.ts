export {
  adoptedBefore,
  adoptedOutcome,
  type AdoptedChange,
  type AdoptedOutcome,
} from './adopted.js';
export { applyEdit } from './apply-edit.js';
export { changedUnits, type ChangedUnit } from './changed-units.js';
export { endOfAnswer } from './end-of-answer.js';
export { draftBase, draftBaseSteps, type DraftBase } from './draft-base.js';
export {
  evaluateDraft,
  makeEdits,
  peersWithout,
  termsOf,
  type AfterDraft,
  type Consequences,
  type Evaluation,
  type FileChange,
  type NewOwnRange,
  type RefusedLicence,
  type RowOutcome,
} from './evaluate-draft.js';
export { fileDiff, type DiffLine, type FileDiff } from './file-diff.js';
export { levelledWorkspace, levelling } from './levelled-workspace.js';
export { Leveller, type LevelPreview } from './leveller.js';
export { type Candidate, type CandidateReason } from './rank-candidates.js';
export {
  centralisingEdits,
  proposeCentralising,
  type ChosenLine,
  type Centralising,
  type CentralisingChoice,
  type CentralisingLine,
  type CentralisingMove,
} from './centralising.js';
export { fixEdits } from './fix-edits.js';
export { reversalOf } from './reversal.js';
export { suggestSets, type SetSuggestion } from './suggest-sets.js';
export { clearEverything, type Clearing, type LeftReason } from './clear-everything.js';
export {
  findingsAfter,
  findingsChange,
  lookForNeedless,
  standAfterDraft,
  standOfBase,
  type FindingsChange,
  type Known,
} from './stand-of-draft.js';
export { triedRemedies, type TriedRemedy } from './tried-remedies.js';
