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
export { certify, type Certificate, type Certificates } from './certificate.js';
export type { StatedDemand } from './stated-demands.js';
export { checkCertificates, type CertificateFault } from './check-certificates.js';
export { needlessCopies, withRePicks, type NeedlessCopy, type RePick } from './needless-copies.js';
export { findRelaxations, type Relaxation } from './relaxations.js';
export type { Change } from './relaxed-workspace.js';
