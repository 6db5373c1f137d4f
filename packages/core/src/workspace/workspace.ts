import type {
  ExceptionLine,
  ManifestProblem,
  Policy,
  ProjectManifest,
  Registries,
  RequirementKind,
  ScanSettings,
  SharedManifest,
} from '../manifest/index.js';
import type { Span } from '../text/index.js';
import type { Range, Version } from '../version/index.js';

export const ROOT_FILE = 'ledger.toml';
export const SHARED_FILE = 'ledger.shared.toml';
export const PROJECT_FILE = 'ledger.project.toml';
export const LOCK_FILE = 'ledger.lock';

/** Is a path, from the repository's root, one of the files that a workspace is read from? */
export function isWorkspaceFile(path: string): boolean {
  return (
    [ROOT_FILE, SHARED_FILE, LOCK_FILE, PROJECT_FILE].includes(path) ||
    path.endsWith(`/${PROJECT_FILE}`)
  );
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

export interface Project {
  readonly folder: string;
  readonly file: string;
  readonly name: string;
  readonly version: string | null;
  readonly ships: ProjectManifest['ships'];
  readonly requirements: readonly Requirement[];
  readonly implicit: readonly string[];
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
  readonly shared: SharedManifest;
  readonly agreements: ReadonlyMap<string, Agreement>;
  readonly exceptions: readonly ExceptionLine[];
  /** Sorted by folder. */
  readonly projects: readonly Project[];
  /** Folders of projects whose manifest cannot be read, sorted. */
  readonly unreadable: readonly string[];
}

export interface FileProblem {
  readonly file: string;
  readonly problem: ManifestProblem;
}

const REMARKS = ['GLOB_WITHOUT_MATCH'];

/** Does a problem leave the meaning of the files open? A remark does not. */
export function isBlocking({ problem }: FileProblem): boolean {
  return !REMARKS.includes(problem.code);
}
