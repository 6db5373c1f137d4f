export {
  addForeign,
  removeForeign,
  setForeignRange,
  setForeignText,
  type ForeignEdit,
} from './edit-foreign.js';
export { filesOfShape, isShaped } from './files-of-shape.js';
export {
  readForeignManifest,
  type ForeignManifest,
  type ForeignReading,
  type ForeignRequirement,
} from './read-foreign-manifest.js';
export { readShapes, SYNTAX_NAMES, type ShapesReading, type SyntaxName } from './read-shapes.js';
export {
  readSharedVersions,
  sharedAsManifest,
  type SharedReading,
} from './read-shared-versions.js';
export { NO_SHAPES, type ManifestShape, type Shapes, type SharedShape } from './shape.js';
export { writtenOf } from './spelling.js';
export { foreignUnits } from './foreign-units.js';
export { shapeOfFile } from './shape-of-file.js';
export {
  proposeShapes,
  type Proposal,
  type ProposedManifest,
  type ProposedRequirements,
  type ProposedShared,
} from './propose/propose-shapes.js';
export { printShapes } from './propose/print-shapes.js';
export { documentOfForeign, documentPath, type RegistryShape } from './registry-shape.js';
