import { filesOfShape } from './files-of-shape.js';
import { sharedAsManifest } from './read-shared-versions.js';
import type { ManifestShape, Shapes } from './shape.js';

/** The shape by which a file is read; null: it is none of the shapes' files. The first shape that matches counts. */
export function shapeOfFile({ manifests, shared }: Shapes, path: string): ManifestShape | null {
  if (shared?.file === path) return sharedAsManifest(shared);
  return manifests.find((shape) => filesOfShape(shape)(path)) ?? null;
}
