export { answerQuestion, type AskedWorkspace, type Progress } from './answer-question.js';
export type {
  Answers,
  CauseFixes,
  ChangedFile,
  DraftAnswer,
  DraftOutcome,
  FoundFindings,
  QuestionOf,
  WhySeveral,
  WorkspaceQuestion,
} from './question.js';
