import { tomlUnits, type ManifestUnit } from '../manifest/index.js';
import { foreignUnits, NO_SHAPES, readShapes, shapeOfFile, type Shapes } from '../shape/index.js';
import { isOwnFile, SHAPES_FILE, type WorkspaceFiles } from './workspace.js';

/** The shapes that files state; none where they state none that can be read. */
export function shapesIn(files: WorkspaceFiles): Shapes {
  const text = files.get(SHAPES_FILE);
  return (text === undefined ? null : readShapes(text).shapes) ?? NO_SHAPES;
}

/** What a file of a workspace says, unit by unit; null where it cannot be read. O(length). */
export function unitsOfFile(
  path: string,
  text: string,
  shapes: Shapes,
): ReadonlyMap<string, ManifestUnit> | null {
  if (isOwnFile(path)) return tomlUnits(text);
  const shape = shapeOfFile(shapes, path);
  return shape === null ? null : foreignUnits(text, shape);
}
