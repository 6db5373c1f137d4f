import { shapeOfFile, type Shapes } from '../shape/index.js';
import { isOwnFile } from '../workspace/index.js';
import { mergeForeign } from './merge-foreign.js';
import {
  mergeManifest,
  type ManifestMerge,
  type Settle,
  type ThreeTexts,
} from './merge-manifest.js';

/** Merges a file of a workspace by what it means: one of ours, or one that a shape describes. */
export function mergeFile(
  path: string,
  texts: ThreeTexts,
  shapes: Shapes,
  settle?: Settle,
): ManifestMerge {
  const shape = isOwnFile(path) ? null : shapeOfFile(shapes, path);
  return shape === null
    ? mergeManifest(path, texts, settle)
    : mergeForeign(path, texts, shape, settle);
}
