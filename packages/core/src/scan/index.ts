export { isRuntimeModule, knownPackage, packageOfSpecifier } from './package-of-specifier.js';
export { SourceScanner } from './scan-source.js';
export {
  MOST_SOURCE_BYTES,
  TOO_LARGE,
  type ReferenceForm,
  type SourceReference,
  type SourceScan,
  type UnseenReference,
} from './source-scan.js';
export {
  gatherUse,
  projectOfFile,
  type PlacedReference,
  type ProjectUse,
  type SourceUse,
} from './source-use.js';
