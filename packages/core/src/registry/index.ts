export { portOfRegistries } from './port-of-registries.js';
export type {
  PackageRecord,
  PackageRecords,
  RegistryPort,
  Release,
  ReleaseFault,
  ReleaseNeed,
  ReleasePeer,
  TermsOfUse,
} from './package-record.js';
export { RegistryError } from './package-record.js';
export {
  readPackageRecord,
  type RecordProblem,
  type RecordReading,
} from './read-package-record.js';
export { loadPackages, namedPackages } from './load-packages.js';
export { matchingPackages } from './matching-packages.js';
export { readNotes, type ReleaseNotes } from './read-notes.js';
export { readSearchPage, type FoundPackage, type SearchPage } from './read-search.js';
export { parseRegistryJson, recordOfDocument, unreachableRegistry } from './record-of-document.js';
export { isIntegrity } from './integrity.js';
export { isLicenceAllowed } from './licence.js';
export { recordsAsOf } from './records-as-of.js';
