export type { Version } from './version.js';
export type { Range } from './range.js';
export {
  readingOf,
  VERSION_SCHEMES,
  type PrereleasePolicy,
  type RangeReading,
  type VersionScheme,
} from './version-scheme.js';
export type { VersionProblem } from './version-problem.js';
export type { Interval, IntervalSet } from './interval-set.js';
export {
  compareVersions,
  isPrerelease,
  isSameVersion,
  nextRelease,
  printVersion,
  releaseBefore,
} from './version.js';
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
  NO_VERSION,
  rangeContains,
  subtractRanges,
  uniteRanges,
} from './range.js';
export { versionProblemMessage } from './version-problem.js';
export { VERSION_STEPS, versionStep, type VersionStep } from './version-step.js';
