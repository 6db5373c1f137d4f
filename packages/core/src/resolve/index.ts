export type {
  Answer,
  AnsweredRequirement,
  Copy,
  ProjectAnswers,
  Resolution,
} from './resolution.js';
export { copyKey, FOR_NO_TARGET } from './resolution.js';
export { byKindAndName, requiredPackages, resolve } from './resolve.js';
export type { ResolveInput, ResolveOutcome } from './resolve.js';
export type { Unanswered } from './explain-unanswered.js';
