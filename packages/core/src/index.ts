export type { Place, Span } from './text/index.js';
export type { TextEdit } from './text/index.js';
export { applyEdits } from './text/index.js';
export { lineStarts, positionAt } from './text/index.js';
export { nearestWord } from './text/index.js';
export { unreachable } from './text/index.js';
export type { Version } from './version/index.js';
export type { PrereleasePolicy, Range } from './version/index.js';
export type { VersionProblem } from './version/index.js';
export type { Interval, IntervalSet } from './version/index.js';
export { compareVersions, isPrerelease, isSameVersion, printVersion } from './version/index.js';
export { parseVersion, requireVersion } from './version/index.js';
export { parseRange, requireRange } from './version/index.js';
export { printRange, printVers } from './version/index.js';
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
} from './version/index.js';
export { versionProblemMessage } from './version/index.js';
export { versionStep, type VersionStep } from './version/index.js';
export type { ManifestProblem } from './manifest/index.js';
export { manifestProblemMessage } from './manifest/index.js';
export type { CopiesPolicy, PackagePolicy, Policy, RootManifest } from './manifest/index.js';
export { policyOf, readRootManifest } from './manifest/index.js';
export type { ProjectManifest, RequirementKind, WrittenRequirement } from './manifest/index.js';
export { readProjectManifest, REQUIREMENT_KINDS } from './manifest/index.js';
export type { ExceptionLine, LockstepSet, SharedManifest } from './manifest/index.js';
export { NOTHING_SHARED, readSharedManifest } from './manifest/index.js';
export { planSetRequirement } from './manifest/index.js';
export { NEW_SHARED_FILE, planSetShared } from './manifest/index.js';
export { NAME } from './manifest/index.js';
export type {
  Agreement,
  FileProblem,
  Meaning,
  Project,
  Requirement,
  Workspace,
  WorkspaceFiles,
} from './workspace/index.js';
export { isBlocking, LOCK_FILE, PROJECT_FILE, ROOT_FILE, SHARED_FILE } from './workspace/index.js';
export { manifestPath, readWorkspace, type WorkspaceReading } from './workspace/index.js';
export { placeOf, placeProblem, type PlacedProblem } from './workspace/index.js';
export { standingOf, type Standing } from './workspace/index.js';
export type {
  PackageRecord,
  PackageRecords,
  RegistryPort,
  Release,
  ReleaseNeed,
} from './registry/index.js';
export { RegistryError } from './registry/index.js';
export { readPackageRecord, type RecordProblem, type RecordReading } from './registry/index.js';
export { loadPackages } from './registry/index.js';
export type {
  Answer,
  AnsweredRequirement,
  Copy,
  ProjectAnswers,
  Resolution,
} from './resolve/index.js';
export { copyKey } from './resolve/index.js';
export { byKindAndName, requiredPackages, resolve } from './resolve/index.js';
export type { ResolveInput, ResolveOutcome } from './resolve/index.js';
export type { Unanswered } from './resolve/index.js';
export { AvailableReleases, type Unusable } from './resolve/index.js';
export { RangeCache } from './resolve/index.js';
export { fewestStabs } from './resolve/index.js';
export { printLock } from './lock/index.js';
export { readLock, type LockReading } from './lock/index.js';
export { checkLock, type LockReason, type LockState } from './lock/index.js';
export { compareLocks, type CopyName, type LockChange, type MovedCopy } from './lock/index.js';
export { lockProblemMessage, type LockProblem } from './lock/index.js';
export { lockSum } from './lock/index.js';
export {
  AnswerIndex,
  requirementsByPackage,
  sheetRow,
  sheetRows,
  spanOf,
  standRequirements,
  type RailMark,
  type RailReach,
  type RailRelease,
  type SheetRow,
  type StandingRequirement,
} from './sheet/index.js';
export type { Edit, EditProblem } from './draft/index.js';
export { applyEdit } from './draft/index.js';
export { candidatesFor, unusableReleases, type Candidate } from './draft/index.js';
export { draftBase, type DraftBase } from './draft/index.js';
export { describeEdit, draftMessage, type EditWords } from './draft/index.js';
export {
  evaluateDraft,
  type Consequences,
  type Evaluation,
  type FileChange,
  type RowOutcome,
} from './draft/index.js';
export { fileDiff, type DiffLine, type FileDiff } from './draft/index.js';
export { editsWithout, levelEdits, rangeLike } from './draft/index.js';
export { copyDemands, type CopyDemand } from './sheet/index.js';
