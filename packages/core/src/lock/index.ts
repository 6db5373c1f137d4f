export { printCopy, printLock } from './print-lock.js';
export { readLock, type KnownBlocks, type LockHeads, type LockReading } from './read-lock.js';
export { checkLock, type LockState } from './check-lock.js';
export { checkLockAgainst, type Registry } from './check-lock-against.js';
export {
  answerableSkips,
  lockFaults,
  suppliesWanted,
  type AnswerableSkip,
  type WantedSupply,
} from './lock-faults.js';
export type { LockReason } from './lock-reason.js';
export { compareLocks, type CopyName, type LockChange, type MovedCopy } from './compare-locks.js';
export { lockProblemMessage, type LockProblem } from './lock-problem.js';
export { openTerms, termsOfCopy, termsStand, type OpenTerms } from './open-terms.js';
export { touchedDisputes } from './touched-disputes.js';
export { lockSum } from './lock-sum.js';
export {
  explainLockChange,
  type ChangeCause,
  type ChangedRequirement,
  type CopyCauses,
  type ExplainedLockChange,
  type Reanswered,
} from './lock-change-causes.js';
export { causeWords } from './cause-words.js';
export { broughtBy, lockStandOf, type LockStand, type LockStep } from './lock-history.js';
