import type { ManifestUnit } from '../manifest/index.js';
import { readForeignManifest } from './read-foreign-manifest.js';
import type { ManifestShape } from './shape.js';

/**
 * The requirements of a foreign manifest as units that are merged and put back, by kind and name; null where it cannot be
 * read. O(length).
 */
export function foreignUnits(
  text: string,
  shape: ManifestShape,
): ReadonlyMap<string, ManifestUnit> | null {
  const { manifest } = readForeignManifest(text, shape);
  if (manifest === null) return null;
  return new Map(
    manifest.requirements.map(({ kind, name, text: source, span }) => {
      const path = [kind, name];
      const what = { path, value: JSON.stringify(source), list: null, source };
      const unit = { ...what, isBlock: false, span, whole: span };
      return [path.join('\n'), unit];
    }),
  );
}
