export type {
  Answer,
  AnsweredRequirement,
  Copy,
  CopyPeer,
  ProjectAnswers,
  Resolution,
  SuppliedPeer,
} from './model/resolution.js';
export {
  byKindAndName,
  copyKey,
  FOR_NO_TARGET,
  KEPT_OUT,
  NONE_USABLE,
  NOT_IN_REGISTRY,
} from './model/resolution.js';
export { NONE } from './model/demand.js';
export { PeerProviders } from './peers/peer-providers.js';
export type { PeerLink, PeerSource, Provider } from './peers/peer-source.js';
export { WantedSupplies } from './peers/wanted-supplies.js';
export { Engine, requiredPackages } from './engine.js';
export type { Question, ResolveOutcome } from './engine.js';
export { linesInForce } from './model/answered-otherwise.js';
export type { Watch } from './choose/settlement.js';
export { resolve, type ResolveInput } from './resolve.js';
export type { Unanswered } from './explain/explain-unanswered.js';
export type { UnmetPeer } from './peers/unmet-peers.js';
export { certify, type Certificate, type Certificates } from './certify/certificate.js';
export type { StatedDemand } from './certify/stated-demands.js';
export { checkCertificates, type CertificateFault } from './certify/check-certificates.js';
export { needlessCopies, type NeedlessCopy } from './certify/needless-copies.js';
export type { RePick } from './model/held-answers.js';
export { suggestFixes, type SuggestedFix, type SuggestedFixes } from './explain/suggest-fixes.js';
export type { Change } from './explain/changed-workspace.js';
export { minimumHittingSet } from './policy/minimum-hitting-set.js';
export { ReleaseTerms, termsOf as releaseTermsOf, type Unusable } from './model/release-terms.js';
export {
  disputedCopies,
  type DisputedCopy,
  type TakenIntegrity,
} from './model/held-integrities.js';
