export { Cache, unpackedBytes, type KeptFile, type KeptList, type KeptTree } from './cache.js';
export { checkTree, type TreeFault } from './check-tree.js';
export {
  archivesOf,
  USUAL_FETCHING,
  type FetchArchive,
  type FetchSettings,
} from './fetch-archive.js';
export {
  failureWords,
  fetchAll,
  install,
  stateOf,
  type Fetched,
  type FetchProgress,
  type Installed,
  type WantedArchive,
} from './install.js';
export { InstallTrouble } from './install-trouble.js';
export { fromSeveral, mirror, type ArchiveSource } from './several-sources.js';
export { digestName, digestOf, hashFile } from './integrity.js';
export { readArchive, USUAL_LIMITS, type ArchiveLimits } from './read-archive.js';
export { readState, TREE_FOLDER, type TreeState } from './tree-state.js';
export { carriedArchive, carriedFile, carry, fillCarried, isWhole } from './carried.js';
