export type {
  Answer,
  AnsweredRequirement,
  Copy,
  CopyPeer,
  ProjectAnswers,
  Resolution,
  SuppliedPeer,
} from './resolution.js';
export { byKindAndName, copyKey, FOR_NO_TARGET } from './resolution.js';
export { Engine, requiredPackages } from './engine.js';
export type { Question, ResolveOutcome } from './engine.js';
export type { Watch } from './settlement.js';
export { resolve, type ResolveInput } from './resolve.js';
export type { Unanswered } from './explain-unanswered.js';
export type { UnmetPeer } from './unmet-peers.js';
