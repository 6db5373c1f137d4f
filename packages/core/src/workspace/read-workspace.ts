import {
  NOTHING_SHARED,
  readProjectManifest,
  readRootManifest,
  readSharedManifest,
  type ManifestProblem,
  type ProjectManifest,
  type SharedManifest,
} from '../manifest/index.js';
import {
  NO_SHAPES,
  readAdopted,
  readShapes,
  readSharedVersions,
  type AdoptedVersion,
  type Shapes,
  type ShapesReading,
} from '../shape/index.js';
import { foreignProjects, NO_FOREIGN, type ForeignProjects } from './foreign-projects.js';
import { manifestPath, ProjectBuilder, type BuiltProject, type Report } from './project-builder.js';
import { projectFolders } from './project-folders.js';
import {
  LOCK_FILE,
  PROJECT_FILE,
  ROOT_FILE,
  SHAPES_FILE,
  SHARED_FILE,
  type FileProblem,
  type ForeignFile,
  type Workspace,
  type WorkspaceFiles,
} from './workspace.js';

/** A project's manifest as it was read from a text. */
interface ManifestReading extends ReturnType<typeof readProjectManifest> {
  readonly text: string;
}

type ShapesKept = { readonly text: string } & ShapesReading;
type RootReading = { readonly text: string } & ReturnType<typeof readRootManifest>;
type SharedReading = { readonly text: string } & ReturnType<typeof readSharedManifest>;

export interface WorkspaceReading {
  /** Null when `ledger.toml` says nothing that can be used. */
  readonly workspace: Workspace | null;
  readonly problems: readonly FileProblem[];
  /** By path; lets the next reading leave out what did not change. */
  readonly manifests: ReadonlyMap<string, ManifestReading>;
  readonly root: RootReading | null;
  readonly shared: SharedReading | null;
  readonly shapes: ShapesKept | null;
  readonly foreign: ForeignProjects;
  /** Projects by folder, and what their meaning depended on beside their own manifests. */
  readonly built: ReadonlyMap<string, BuiltProject>;
  readonly context: string;
}

/**
 * Reads a workspace from its files. Parts that cannot be read are reported and left out, the rest stays usable.
 * @param before an earlier reading: files with the same text are not parsed again, and projects that nothing has
 * touched are the same objects as then Cost: O(length of the files parsed + requirements of all projects).
 */
export function readWorkspace(files: WorkspaceFiles, before?: WorkspaceReading): WorkspaceReading {
  const readings = new Map<string, ManifestReading>();
  const rootText = files.get(ROOT_FILE);
  if (rootText === undefined) return nothingRead([missingRoot()]);
  const problems: FileProblem[] = [];
  const report = (file: string, found: readonly ManifestProblem[]): void => {
    problems.push(...found.map((problem) => ({ file, problem })));
  };
  const rootReading =
    before?.root?.text === rootText
      ? before.root
      : { text: rootText, ...readRootManifest(rootText) };
  const { root } = rootReading;
  report(ROOT_FILE, rootReading.problems);
  if (root === null) return nothingRead(problems);

  const sharedReading = readShared(files.get(SHARED_FILE), before?.shared ?? null);
  report(SHARED_FILE, sharedReading?.problems ?? []);
  const shapesReading = readKeptShapes(files.get(SHAPES_FILE), before?.shapes ?? null);
  const shapes = shapesReading?.shapes ?? NO_SHAPES;
  report(SHAPES_FILE, shapesReading?.problems ?? []);
  const shared = withForeignShared(sharedReading?.shared ?? NOTHING_SHARED, shapes, files, report);
  const { folders, problems: globProblems } = projectFolders(files, root.projectGlobs);
  problems.push(...globProblems);
  const manifests = new Map<string, ProjectManifest>();
  const unreadable: string[] = [];
  for (const folder of folders) {
    const file = manifestPath(folder);
    const text = files.get(file)!;
    const kept = before?.manifests.get(file);
    const reading = kept?.text === text ? kept : { text, ...readProjectManifest(text) };
    readings.set(file, reading);
    const { project, problems: found } = reading;
    report(file, found);
    if (project === null) unreadable.push(folder);
    else manifests.set(folder, project);
  }
  const foreign =
    shapes.manifests.length === 0
      ? NO_FOREIGN
      : foreignProjects(files, shapes, root.name, before?.foreign ?? NO_FOREIGN);
  problems.push(...foreign.problems);
  for (const [folder, project] of foreign.projects) {
    const [{ file }] = project.files as [ForeignFile];
    if (manifests.has(folder))
      report(file, [{ code: 'MANIFEST_TWICE', otherFile: manifestPath(folder), span: [0, 0] }]);
    else manifests.set(folder, project.manifest);
  }
  unreadable.push(...foreign.unreadable);
  const sorted = new Map([...manifests].sort(([a], [b]) => (a < b ? -1 : 1)));
  refuseSameNames(sorted, foreign, report);
  const adopted = adoptedIn(files, shapes, report);
  const names = [...sorted].map(([folder, { name }]) => `${folder} ${name}`);
  const agreedElsewhere = shapes.shared === null ? '' : (files.get(shapes.shared.file) ?? '');
  const context = [
    rootText,
    files.get(SHARED_FILE) ?? '',
    files.get(SHAPES_FILE) ?? '',
    agreedElsewhere,
    ...names,
  ].join('\n');
  const known = before?.context === context ? before.built : new Map<string, BuiltProject>();
  const builder = new ProjectBuilder(root, shared, sorted, foreign, report);
  const built = new Map<string, BuiltProject>();
  for (const [folder, manifest] of sorted) {
    const kept = known.get(folder);
    const one = kept?.manifest === manifest ? kept : builder.project(folder, manifest);
    built.set(folder, one);
    problems.push(...one.problems);
  }
  return {
    workspace: {
      ...root,
      shared,
      shapes,
      agreements: builder.agreements,
      exceptions: shared.exceptions,
      projects: [...built.values()].map(({ project }) => project),
      adopted,
      unreadable: unreadable.sort(),
    },
    problems,
    manifests: readings,
    root: rootReading,
    shared: sharedReading,
    shapes: shapesReading,
    foreign,
    built,
    context,
  };
}

function nothingRead(problems: readonly FileProblem[]): WorkspaceReading {
  return {
    workspace: null,
    problems,
    manifests: new Map(),
    root: null,
    shared: null,
    shapes: null,
    foreign: NO_FOREIGN,
    built: new Map(),
    context: '',
  };
}

function missingRoot(): FileProblem {
  return {
    file: ROOT_FILE,
    problem: {
      code: 'FILE_MISSING',
      what: `There is no ${ROOT_FILE} at the root of the repository.`,
      remedy: `Add one that names the workspace, its projects and its registry, and a ${PROJECT_FILE} in each project's folder.`,
      span: [0, 0],
    },
  };
}

function readShared(text: string | undefined, kept: SharedReading | null): SharedReading | null {
  if (text === undefined) return null;
  return kept?.text === text ? kept : { text, ...readSharedManifest(text) };
}

function readKeptShapes(text: string | undefined, kept: ShapesKept | null): ShapesKept | null {
  if (text === undefined) return null;
  return kept?.text === text ? kept : { text, ...readShapes(text) };
}

/** What is agreed on in our own file and in a foreign one. */
function withForeignShared(
  shared: SharedManifest,
  { shared: shape }: Shapes,
  files: WorkspaceFiles,
  report: Report,
): SharedManifest {
  if (shape === null) return shared;
  const text = files.get(shape.file);
  if (text === undefined) {
    report(SHAPES_FILE, [{ code: 'SHAPE_WITHOUT_MATCH', files: [shape.file], span: shape.span }]);
    return shared;
  }
  const { agreed, problems } = readSharedVersions(text, shape);
  report(shape.file, problems);
  for (const [name, { span }] of agreed)
    if (shared.shared.has(name))
      report(shape.file, [
        {
          code: 'AGREED_TWICE',
          name,
          first: `[shared] in ${SHARED_FILE}`,
          second: shape.file,
          span,
        },
      ]);
  return { ...shared, shared: new Map([...agreed, ...shared.shared]) };
}

/** The versions that are installed today; they count until there is a lockfile. */
function adoptedIn(
  files: WorkspaceFiles,
  { adopt }: Shapes,
  report: Report,
): readonly AdoptedVersion[] {
  if (files.has(LOCK_FILE)) return [];
  return adopt.flatMap((shape) => {
    const text = files.get(shape.file);
    if (text === undefined) {
      report(SHAPES_FILE, [{ code: 'SHAPE_WITHOUT_MATCH', files: [shape.file], span: shape.span }]);
      return [];
    }
    const { versions, problems } = readAdopted(text, shape);
    report(shape.file, problems);
    return versions;
  });
}

/** The file in which a project of this folder says its name. */
function mainFile(folder: string, { projects }: ForeignProjects): string {
  return projects.get(folder)?.files[0]!.file ?? manifestPath(folder);
}

function refuseSameNames(
  manifests: ReadonlyMap<string, ProjectManifest>,
  foreign: ForeignProjects,
  report: Report,
): void {
  const firstFolder = new Map<string, string>();
  for (const [folder, { name, nameSpan }] of manifests) {
    const first = firstFolder.get(name);
    if (first === undefined) firstFolder.set(name, folder);
    else {
      const problem = {
        code: 'PROJECT_TWICE',
        name,
        otherFile: mainFile(first, foreign),
        span: nameSpan,
      } as const;
      report(mainFile(folder, foreign), [problem]);
    }
  }
}
