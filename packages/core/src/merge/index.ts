export {
  mergeManifest,
  type ManifestConflict,
  type ManifestMerge,
  type Settle,
  type ThreeTexts,
} from './merge-manifest.js';
export {
  lockMerged,
  mergeLockAnswers,
  mergeManifests,
  mergeWorkspaces,
  type ManifestsMerge,
  type MergeInput,
  type MergeOutcome,
} from './merge-workspaces.js';
export { packageOfConflict } from './package-of-conflict.js';
export { mergeFile } from './merge-file.js';
