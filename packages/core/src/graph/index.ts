export {
  LINK_KINDS,
  needGraph,
  nodeCount,
  nodeName,
  nodeNamed,
  nodeOf,
  type LinkFilter,
  type LinkKind,
  type NeedGraph,
} from './need-graph.js';
export { Chains, type Chain } from './chains.js';
export { START } from './dominators.js';
export { retainedSizes, retainedBy, type RetainedSizes } from './retained-sizes.js';
export { projectCycles } from './project-cycles.js';
export { whatTheyBring, whoBringsThem, type Reached } from './reach.js';
export { redundantLinks, type RedundantLink } from './redundant-links.js';
export { traceOf, type Trace, type TraceLink, type TraceNode, type TraceTerms } from './trace.js';
export { mergedChains } from './merged-chains.js';
export { nodesByName } from './nodes-by-name.js';
export {
  demandsOn,
  linkBetween,
  weighedRequirements,
  type WeighedRequirement,
  type WrittenLink,
} from './written-links.js';
export { linksOnlyIn, type NamedLink } from './changed-links.js';
export { leavingWithoutLinks, type LinkEnds } from './without-links.js';
export { driftLines, type DriftLine } from './drift.js';
