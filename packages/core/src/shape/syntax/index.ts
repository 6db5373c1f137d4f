export { JSON_SYNTAX } from './json-syntax.js';
export { linePattern, linesSyntax } from './lines-syntax.js';
export { TOML_SYNTAX } from './toml-syntax.js';
export { XML_SYNTAX } from './xml-syntax.js';
export { YAML_SYNTAX } from './yaml-syntax.js';
export { sourceOfJson } from './json-values.js';
export type { Syntax } from './syntax.js';
export {
  obstacleOn,
  plainOf,
  sourceAt,
  type SourceEntry,
  type SourceList,
  type SourceNode,
  type SourceParse,
  type SourcePath,
  type SourceScalar,
  type SourceTable,
} from './source-tree.js';
