export {
  dropStandingOrder,
  nextDue,
  ORDER_TAKES,
  ORDER_TARGETS,
  scheduleProblem,
  setStandingOrder,
  type OrderTake,
  type OrderTarget,
  type StandingOrder,
  type StandingOrderText,
} from './standing-orders.js';
export type { ManifestProblem } from './manifest-problem.js';
export { firstProblems, manifestProblemMessage } from './manifest-problem.js';
export type {
  CopiesPolicy,
  OwnRangesPolicy,
  PackagePolicy,
  Policy,
  RootManifest,
  ScanPattern,
  ScanSettings,
} from './root-manifest.js';
export {
  onlyRegistry,
  registryOf,
  believedOf,
  schemeOf,
  schemeOfRegistry,
  type Registries,
  type RegistryLine,
} from './registries.js';
export type { OwnerLine } from './owners.js';
export { placeAt, readRegistryPlaces, type RegistryPlace } from './registry-addresses.js';
export { policyOf, rangeFor, readingFor, readRootManifest } from './root-manifest.js';
export type {
  ProjectManifest,
  ProjectReading,
  RequirementKind,
  WrittenRequirement,
} from './project-manifest.js';
export { readProjectManifest, REQUIREMENT_KINDS } from './project-manifest.js';
export type {
  Agreed,
  ExceptionLine,
  OtherwiseLine,
  PinLine,
  LockstepSet,
  MutedLine,
  AcceptedLine,
  SharedManifest,
  SharedManifestReading,
} from './shared-manifest.js';
export { NOTHING_SHARED, readSharedManifest } from './shared-manifest.js';
export { planSetRequirement } from './set-requirement.js';
export { NEW_SHARED_FILE, planSetShared } from './set-shared.js';
export { TableReader } from './table-reader.js';
export { carryOut, type TreePlan } from './plan.js';
export { addRequirement, believeUse, dropRequirement, moveRequirement } from './edit-needs.js';
export {
  dropEverywhere,
  dropException,
  dropOtherwise,
  dropLockstep,
  dropMuted,
  dropPin,
  dropShared,
  setEverywhere,
  setException,
  setOtherwise,
  setLockstep,
  setMuted,
  setPin,
  setShared,
  type ExceptionText,
  type OtherwiseText,
  type MutedText,
  type AcceptedText,
  setAccepted,
  dropAccepted,
} from './edit-shared.js';
export { setValue, type TomlValue } from './set-value.js';
export { planSetUnit, withoutEmptyTables, withUnits, type WantedUnit } from './set-unit.js';
export { withUnitLines } from './unit-lines.js';
export { tomlUnits, unitKey, type ManifestUnit } from './toml-units.js';
export { parseToml, type TomlNode } from './toml-document.js';
export { planSetString, printKey, printString } from './edit-toml.js';
export { planAddTomlEntry, planRemoveTomlEntry } from './edit-plain-toml.js';
export { lineEnd, lineStart, newlineOf, nextLine } from './toml-lines.js';
