import type {
  ExceptionLine,
  ManifestProblem,
  OwnerLine,
  Policy,
  ProjectManifest,
  Registries,
  RequirementKind,
  ScanSettings,
  SharedManifest,
  StandingOrder,
} from '../manifest/index.js';
import {
  isShaped,
  readShapes,
  type AdoptedVersion,
  type ManifestShape,
  type Shapes,
} from '../shape/index.js';
import type { Span } from '../text/index.js';
import type { Range, Version } from '../version/index.js';

export const ROOT_FILE = 'ledger.toml';
export const SHARED_FILE = 'ledger.shared.toml';
export const PROJECT_FILE = 'ledger.project.toml';
export const LOCK_FILE = 'ledger.lock';
export const SHAPES_FILE = 'ledger.shapes.toml';

/** Is a path, from the repository's root, one of our own files? */
export function isOwnFile(path: string): boolean {
  return [ROOT_FILE, SHARED_FILE, SHAPES_FILE, LOCK_FILE].includes(path) || isProjectFile(path);
}

/** Is a path a project's manifest, of ours? */
export function isProjectFile(path: string): boolean {
  return path === PROJECT_FILE || path.endsWith(`/${PROJECT_FILE}`);
}

/**
 * Is a path one of the files that a workspace is read from: one of ours, or one that its shapes describe?
 * @param shapesText of its `ledger.shapes.toml`, where it has one
 */
export function workspaceFileTest(shapesText: string | undefined): (path: string) => boolean {
  const shapes = shapesText === undefined ? null : readShapes(shapesText).shapes;
  if (shapes === null) return isOwnFile;
  const isForeign = isShaped(shapes);
  return (path) => isOwnFile(path) || isForeign(path);
}

/** The workspace's own files by path from the repository's root, with `/` between folders. */
export type WorkspaceFiles = ReadonlyMap<string, string>;

/** What a requirement asks for: another project, or a package within a range. */
export type Meaning =
  | { readonly kind: 'project'; readonly folder: string }
  | { readonly kind: 'range'; readonly text: string; readonly range: Range };

/** A requirement of a project, with the shared file taken into account. */
export interface Requirement {
  /** Folder of the project. */
  readonly project: string;
  readonly kind: RequirementKind;
  readonly name: string;
  /** As the manifest has it: `shared`, `workspace` or a range. */
  readonly written: string;
  readonly meaning: Meaning;
  readonly when: readonly string[];
  /** The workspace's targets for which it must be answered; `*` when the workspace names none. */
  readonly targets: readonly string[];
  /** Comes from [everywhere], not from the project's own manifest. */
  readonly isEverywhere: boolean;
  readonly file: string;
  readonly span: Span;
  /** In the file, from 1. */
  readonly line: number;
}

/** A requirement that is no range: it is kept as it is, and never resolved. */
export interface UnresolvedRequirement {
  readonly name: string;
  readonly text: string;
  readonly file: string;
  readonly line: number;
}

/** A foreign manifest with the shape by which it is read and edited. */
export interface ForeignFile {
  readonly file: string;
  readonly shape: ManifestShape;
}

export interface Project {
  readonly folder: string;
  readonly file: string;
  readonly name: string;
  readonly version: string | null;
  readonly ships: ProjectManifest['ships'];
  readonly requirements: readonly Requirement[];
  readonly implicit: readonly string[];
  /** Its manifests, where they are not ours. */
  readonly foreign: readonly ForeignFile[];
  /** Requirements that are no ranges, which are kept as they are and never resolved. */
  readonly unresolved: readonly UnresolvedRequirement[];
}

/** What the workspace has agreed on for one package. */
export interface Agreement {
  readonly text: string;
  readonly range: Range;
  /** The lockstep set it comes from, or null. */
  readonly set: string | null;
}

export interface Workspace {
  readonly name: string;
  readonly registries: Registries;
  readonly platform: ReadonlyMap<string, Version>;
  readonly targets: readonly string[];
  readonly policy: Policy;
  readonly scan: ScanSettings;
  readonly standing: readonly StandingOrder[];
  readonly owners: readonly OwnerLine[];
  /** What the folder of links is called into which a project's runtime looks. */
  readonly installFolder: string;
  readonly shared: SharedManifest;
  readonly shapes: Shapes;
  readonly agreements: ReadonlyMap<string, Agreement>;
  readonly exceptions: readonly ExceptionLine[];
  /** Sorted by folder. */
  readonly projects: readonly Project[];
  /** What is installed today by other means; none where there is a lockfile. */
  readonly adopted: readonly AdoptedVersion[];
  /** Folders of projects whose manifest cannot be read, sorted. */
  readonly unreadable: readonly string[];
}

export interface FileProblem {
  readonly file: string;
  readonly problem: ManifestProblem;
}

const REMARKS = ['GLOB_WITHOUT_MATCH', 'OWNER_WITHOUT_MATCH', 'SHAPE_WITHOUT_MATCH'];

/** Does a problem leave the meaning of the files open? A remark does not. */
export function isBlocking({ problem }: FileProblem): boolean {
  return !REMARKS.includes(problem.code);
}
