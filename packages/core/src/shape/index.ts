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
export { readAdopted, type AdoptedReading, type AdoptedVersion } from './read-adopted.js';
export { NO_SHAPES, type ManifestShape, type Shapes, type SharedShape } from './shape.js';
export { writtenOf } from './spelling.js';
export { foreignUnits } from './foreign-units.js';
export { shapeOfFile } from './shape-of-file.js';
export {
  formOfProposal,
  proposeShapes,
  type Proposal,
  type ProposedManifest,
  type PlaceEvidence,
} from './propose/propose-shapes.js';
export { proposeRegistry } from './propose/propose-registry.js';
export { printRegistry, printShapes } from './print-shapes.js';
export type {
  AdoptForm,
  ManifestForm,
  RegistryForm,
  RequirementForm,
  ShapesForm,
  SharedForm,
} from './shapes-form.js';
export { documentOfForeign, documentPath, type RegistryShape } from './registry-shape.js';
export { sourceAt, type SourceNode } from './syntax/index.js';
