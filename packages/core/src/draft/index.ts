export type { Edit, EditProblem } from './edit.js';
export { applyEdit } from './apply-edit.js';
export { candidatesFor, type Candidate } from './candidates.js';
export { draftBase, type DraftBase } from './draft-base.js';
export { describeEdit, draftMessage, type EditWords } from './describe-edit.js';
export {
  evaluateDraft,
  type Consequences,
  type Evaluation,
  type FileChange,
  type RowOutcome,
} from './evaluate-draft.js';
export { fileDiff, type DiffLine, type FileDiff } from './file-diff.js';
export { editsWithout, levelEdits, rangeLike } from './level-edits.js';
