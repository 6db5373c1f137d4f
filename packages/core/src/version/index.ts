export type { Version } from './version.js';
export type { PrereleasePolicy, Range } from './range.js';
export type { VersionProblem } from './version-problem.js';
export type { Interval, IntervalSet } from './interval-set.js';
export { compareVersions, isPrerelease, isSameVersion, printVersion } from './version.js';
export { parseVersion, requireVersion } from './parse-version.js';
export { parseRange, requireRange } from './parse-range.js';
export { printRange, printVers } from './print-range.js';
export {
  everyVersion,
  intersectRanges,
  isEmptyRange,
  isSameRange,
  isSubrange,
  isUnbounded,
  rangeContains,
  subtractRanges,
  uniteRanges,
} from './range.js';
export { versionProblemMessage } from './version-problem.js';
export { VERSION_STEPS, versionStep, type VersionStep } from './version-step.js';
