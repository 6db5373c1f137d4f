import {
  NOTHING_SHARED,
  readProjectManifest,
  readRootManifest,
  readSharedManifest,
  type ManifestProblem,
  type ProjectManifest,
  type ProjectReading,
  type SharedManifest,
  type SharedManifestReading,
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
import { computedFrom, type ComputedFrom } from './computed-from.js';
import { foreignProjects, NO_FOREIGN, type ForeignProjects } from './foreign-projects.js';
import {
  mainFile,
  manifestPath,
  ProjectBuilder,
  type BuiltProject,
  type Report,
} from './project-builder.js';
import { ProjectContext } from './project-context.js';
import { idleOwnerPatterns } from './owners-of.js';
import { manifestFolders, projectFolders, type ProjectFolders } from './project-folders.js';
import type { ReadAhead } from './read-ahead.js';
import { firstOfEachFile, leaveOutTooMany } from './reading-limits.js';
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

/** What was read, with the text that it was read from. */
type Kept<Reading> = { readonly text: string } & Reading;

export interface WorkspaceReading {
  /** Null when `ledger.toml` says nothing that can be used. */
  readonly workspace: Workspace | null;
  readonly problems: readonly FileProblem[];
  /** By path; lets the next reading leave out what did not change. */
  readonly manifests: ReadonlyMap<string, Kept<ProjectReading>>;
  readonly root: Kept<ReturnType<typeof readRootManifest>> | null;
  readonly shared: Kept<SharedManifestReading> | null;
  readonly shapes: Kept<ShapesReading> | null;
  readonly foreign: ForeignProjects;
  readonly folders: ComputedFrom<ProjectFolders> | null;
  readonly idleOwners: ComputedFrom<readonly FileProblem[]> | null;
  /** Projects by folder, and what their meaning depends on beside their own manifests. */
  readonly built: ReadonlyMap<string, BuiltProject>;
  readonly context: ComputedFrom<ProjectContext> | null;
}

/**
 * Reads a workspace from its files. Parts that cannot be read are reported and left out, the rest stays usable.
 * @param before an earlier reading: files with the same text are not parsed again, and projects that nothing has
 * touched are the same objects as then
 * @param ahead of these files, texts that were read already, perhaps by another thread
 * Cost: O(length of the files parsed + requirements of all projects).
 */
export function readWorkspace(
  files: WorkspaceFiles,
  before?: WorkspaceReading,
  ahead?: ReadAhead,
): WorkspaceReading {
  const readings = new Map<string, Kept<ProjectReading>>();
  const rootText = files.get(ROOT_FILE);
  if (rootText === undefined) return nothingRead([missingRoot()]);
  const problems: FileProblem[] = [];
  const report = (file: string, found: readonly ManifestProblem[]): void => {
    for (const problem of found) problems.push({ file, problem });
  };
  const rootReading = readKept(rootText, before?.root, readRootManifest);
  const { root } = rootReading;
  report(ROOT_FILE, rootReading.problems);
  if (root === null) return nothingRead(problems);

  const sharedText = files.get(SHARED_FILE);
  const readSharedText = (text: string) => ahead?.shared ?? readSharedManifest(text);
  const sharedReading =
    sharedText === undefined ? null : readKept(sharedText, before?.shared, readSharedText);
  report(SHARED_FILE, sharedReading?.problems ?? []);
  const shapesText = files.get(SHAPES_FILE);
  const shapesReading =
    shapesText === undefined ? null : readKept(shapesText, before?.shapes, readShapes);
  const shapes = shapesReading?.shapes ?? NO_SHAPES;
  report(SHAPES_FILE, shapesReading?.problems ?? []);
  const shared = withForeignShared(
    sharedReading?.shared ?? NOTHING_SHARED,
    shapes,
    files,
    report,
    ahead,
  );
  const all = manifestFolders(files);
  const folders = computedFrom([root.projectGlobs, ...all], before?.folders, () =>
    projectFolders(all, root.projectGlobs),
  );
  problems.push(...folders.result.problems);
  const manifests = new Map<string, ProjectManifest>();
  const unreadable: string[] = [];
  for (const folder of folders.result.folders) {
    const file = manifestPath(folder);
    const reading = readKept(
      files.get(file)!,
      before?.manifests.get(file),
      (text) => ahead?.projects.get(file) ?? readProjectManifest(text),
    );
    readings.set(file, reading);
    const { project, problems: found } = reading;
    report(file, found);
    if (project === null) unreadable.push(folder);
    else manifests.set(folder, project);
  }
  const foreign =
    shapes.manifests.length === 0
      ? NO_FOREIGN
      : foreignProjects(files, shapes, root.name, before?.foreign ?? NO_FOREIGN, ahead?.foreign);
  for (const problem of foreign.problems) problems.push(problem);
  for (const [folder, project] of foreign.projects) {
    const [{ file }] = project.files as [ForeignFile];
    if (manifests.has(folder))
      report(file, [{ code: 'MANIFEST_TWICE', otherFile: manifestPath(folder), span: [0, 0] }]);
    else manifests.set(folder, project.manifest);
  }
  unreadable.push(...foreign.unreadable, ...leaveOutTooMany(manifests, foreign, report));
  const sorted = new Map([...manifests].sort(([a], [b]) => (a < b ? -1 : 1)));
  refuseSameNames(sorted, foreign, report);
  const readable = [...sorted.keys(), ...unreadable];
  const idleOwners = computedFrom([root.owners, ...readable], before?.idleOwners, () =>
    idleOwnerPatterns(root.owners, readable),
  );
  problems.push(...idleOwners.result);
  const adopted = adoptedIn(files, shapes, report, ahead);
  const texts = [SHARED_FILE, SHAPES_FILE, ...(shapes.shared === null ? [] : [shapes.shared.file])];
  const context = computedFrom(
    [
      ...[rootText, ...texts.map((file) => files.get(file))],
      ...[...sorted].flatMap(([folder, { name }]) => [folder, name]),
    ],
    before?.context,
    () => new ProjectContext(root, shared, sorted),
  );
  problems.push(...context.result.problems);
  const known = context === before?.context ? before?.built : undefined;
  const builder = new ProjectBuilder(context.result, foreign);
  const built = new Map<string, BuiltProject>();
  for (const [folder, manifest] of sorted) {
    const kept = known?.get(folder);
    const one = kept?.manifest === manifest ? kept : builder.project(folder, manifest);
    built.set(folder, one);
    for (const problem of one.problems) problems.push(problem);
  }
  return {
    workspace: {
      ...root,
      shared,
      shapes,
      agreements: context.result.agreements,
      exceptions: shared.exceptions,
      projects: [...built.values()].map(({ project }) => project),
      adopted,
      unreadable: unreadable.sort(),
    },
    problems: firstOfEachFile(problems),
    manifests: readings,
    root: rootReading,
    shared: sharedReading,
    shapes: shapesReading,
    foreign,
    folders,
    idleOwners,
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
    folders: null,
    idleOwners: null,
    built: new Map(),
    context: null,
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

/** What a text says, from before where it is the same text. */
function readKept<Reading>(
  text: string,
  kept: Kept<Reading> | null | undefined,
  read: (text: string) => Reading,
): Kept<Reading> {
  return kept?.text === text ? kept : { text, ...read(text) };
}

/** What is agreed on in our own file and in a foreign one. */
function withForeignShared(
  shared: SharedManifest,
  { shared: shape }: Shapes,
  files: WorkspaceFiles,
  report: Report,
  ahead: ReadAhead | undefined,
): SharedManifest {
  if (shape === null) return shared;
  const text = files.get(shape.file);
  if (text === undefined) {
    report(SHAPES_FILE, [{ code: 'SHAPE_WITHOUT_MATCH', files: [shape.file], span: shape.span }]);
    return shared;
  }
  const { agreed, problems } = ahead?.foreignShared ?? readSharedVersions(text, shape);
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
  ahead: ReadAhead | undefined,
): readonly AdoptedVersion[] {
  if (files.has(LOCK_FILE)) return [];
  return adopt.flatMap((shape, i) => {
    const text = files.get(shape.file);
    if (text === undefined) {
      report(SHAPES_FILE, [{ code: 'SHAPE_WITHOUT_MATCH', files: [shape.file], span: shape.span }]);
      return [];
    }
    const { versions, problems } = ahead?.adopted.get(i) ?? readAdopted(text, shape);
    report(shape.file, problems);
    return versions;
  });
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
