export { mergeManifest, type ManifestConflict, type ManifestMerge } from './merge-manifest.js';
export {
  mergeManifests,
  mergeWorkspaces,
  type ManifestsMerge,
  type MergeInput,
  type MergeOutcome,
} from './merge-workspaces.js';
