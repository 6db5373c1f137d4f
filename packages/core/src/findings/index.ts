export { causesOf, type Cause } from './causes.js';
export { figuresOf, type Figures } from './figures.js';
export { findAll } from './find.js';
export {
  FINDING_KINDS,
  SEVERITY_POINTS,
  SEVERITIES,
  type Evidence,
  type Finding,
  type FindingKind,
  type Remedy,
  type Severity,
} from './finding.js';
export { type Stand } from './grounds.js';
export { mutesOf } from './mutes.js';
export { rankRemedies, rankSingleRemedies, type RankedRemedy } from './rank-remedies.js';
export { findingsAsSarif, type SarifLog } from './findings-sarif.js';
export { sinceWhen, type FindingsAt, type Since } from './since.js';
