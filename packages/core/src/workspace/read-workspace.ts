import {
  NOTHING_SHARED,
  policyOf,
  readProjectManifest,
  readRootManifest,
  readSharedManifest,
  registryOf,
  type ManifestProblem,
  type ProjectManifest,
  type RootManifest,
  type SharedManifest,
  type WrittenRequirement,
} from '../manifest/index.js';
import {
  NO_SHAPES,
  readShapes,
  readSharedVersions,
  type Shapes,
  type ShapesReading,
} from '../shape/index.js';
import { globMatcher, nearestWord, type Span } from '../text/index.js';
import { isSameRange, requireRange } from '../version/index.js';
import { foreignProjects, NO_FOREIGN, type ForeignProjects } from './foreign-projects.js';
import { matchingTargets } from './matching-targets.js';
import { projectFolders } from './project-folders.js';
import {
  PROJECT_FILE,
  ROOT_FILE,
  SHAPES_FILE,
  SHARED_FILE,
  type Agreement,
  type FileProblem,
  type ForeignFile,
  type Meaning,
  type Project,
  type Requirement,
  type Workspace,
  type WorkspaceFiles,
} from './workspace.js';

/** A project's manifest as it was read from a text. */
interface ManifestReading extends ReturnType<typeof readProjectManifest> {
  readonly text: string;
}

/** A project with its requirements given their meaning, and what is wrong with that. */
interface BuiltProject {
  readonly manifest: ProjectManifest;
  readonly project: Project;
  readonly problems: readonly FileProblem[];
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
  /** Projects by folder, and what their meaning hung on beside their own manifests. */
  readonly built: ReadonlyMap<string, BuiltProject>;
  readonly context: string;
}

/**
 * Reads a workspace from its files. What cannot be read is reported and left out, the rest stays usable.
 * @param before an earlier reading: files with the same text are not parsed again, and projects
 *   that nothing has touched are the same objects as then
 * Cost: O(length of the files parsed + requirements of all projects).
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

/** Path of a project's manifest. */
export function manifestPath(folder: string): string {
  return folder === '.' ? PROJECT_FILE : `${folder}/${PROJECT_FILE}`;
}

type Report = (file: string, problems: readonly ManifestProblem[]) => void;

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

const MOST_SEARCHES = 50;

/** Gives the requirements of all projects their meaning. */
class ProjectBuilder {
  readonly agreements: ReadonlyMap<string, Agreement>;
  private readonly folderByName: ReadonlyMap<string, string>;
  private readonly allTargets: readonly string[];
  private searches = 0;

  constructor(
    private readonly root: RootManifest,
    private readonly shared: SharedManifest,
    manifests: ReadonlyMap<string, ProjectManifest>,
    private readonly foreign: ForeignProjects,
    private readonly report: Report,
  ) {
    this.agreements = agreementsOf(root, shared);
    this.allTargets = matchingTargets(root.targets, []);
    this.folderByName = new Map(
      [...manifests].reverse().map(([folder, { name }]) => [name, folder]),
    );
    this.refuseUnknownProjects(manifests);
  }

  project(folder: string, manifest: ProjectManifest): BuiltProject {
    const foreign = this.foreign.projects.get(folder);
    const isForeign = foreign?.manifest === manifest;
    const file = isForeign ? foreign.files[0]!.file : manifestPath(folder);
    const problems: FileProblem[] = [];
    const own = manifest.requirements.flatMap((one): Requirement[] => {
      const { lacks: _, file: ownFile = file, ...written } = this.understood(one);
      const report = (problem: ManifestProblem): void =>
        void problems.push({ file: ownFile, problem });
      const meaning = this.meaning(report, written.name, written.written, written.span);
      if (meaning === null) return [];
      const targets = this.targets(report, written.when, written.span);
      if (targets === null) return [];
      return [
        { project: folder, ...written, meaning, targets, isEverywhere: false, file: ownFile },
      ];
    });
    const required = new Set(own.map(({ name }) => name));
    const everywhere = this.everywhere(folder, manifest.name).filter(
      ({ name }) => !required.has(name),
    );
    const project = {
      folder,
      file,
      name: manifest.name,
      version: manifest.version,
      ships: manifest.ships,
      requirements: [...own, ...everywhere],
      implicit: manifest.implicit,
      foreign: isForeign ? foreign.files : [],
      unresolved: isForeign ? foreign.unresolved : [],
    };
    return { manifest, project, problems };
  }

  /** A requirement with what a foreign file says by a range or a name alone: a shared version, a project. */
  private understood(one: WrittenRequirement): WrittenRequirement {
    const { name, written, lacks } = one;
    if (lacks === undefined || written === 'shared' || written === 'workspace') return one;
    if (lacks.workspace && this.folderByName.has(name)) return { ...one, written: 'workspace' };
    const agreement = lacks.shared ? this.agreements.get(name) : undefined;
    const policy = policyOf(this.root.policy, name).prereleases;
    const isAgreed =
      agreement !== undefined && isSameRange(agreement.range, requireRange(written, policy));
    return isAgreed ? { ...one, written: 'shared' } : one;
  }

  private meaning(
    report: (problem: ManifestProblem) => void,
    name: string,
    written: string,
    span: Span,
  ): Meaning | null {
    if (written === 'workspace') {
      const folder = this.folderByName.get(name);
      if (folder !== undefined) return { kind: 'project', folder };
      report({ code: 'PROJECT_UNKNOWN', name, meant: this.meantProject(name), span });
      return null;
    }
    if (registryOf(this.root.registries, name) === null) {
      report({ code: 'REGISTRY_NONE', name, span });
      return null;
    }
    if (written !== 'shared') return this.rangeOf(name, written);
    const agreement = this.agreements.get(name);
    if (agreement !== undefined)
      return { kind: 'range', text: agreement.text, range: agreement.range };
    report({ code: 'NOT_SHARED', name, span });
    return null;
  }

  /** The project that a name most likely means; looked for a few times only, as it looks at all of them. */
  private meantProject(name: string): string | null {
    this.searches += 1;
    return this.searches > MOST_SEARCHES ? null : nearestWord(name, [...this.folderByName.keys()]);
  }

  private rangeOf(name: string, text: string): Meaning {
    const policy = policyOf(this.root.policy, name).prereleases;
    return { kind: 'range', text, range: requireRange(text, policy) };
  }

  /** The workspace's targets that a `when` names; null, with a problem, where a pattern names none. */
  private targets(
    report: (problem: ManifestProblem) => void,
    when: readonly string[],
    span: Span,
  ): readonly string[] | null {
    const { targets } = this.root;
    if (when.length === 0) return this.allTargets;
    const idle = when.find((pattern) => !targets.some(globMatcher(pattern)));
    if (idle === undefined) return matchingTargets(targets, when);
    report({ code: 'TARGET_UNKNOWN', pattern: idle, targets, span });
    return null;
  }

  private everywhere(folder: string, projectName: string): readonly Requirement[] {
    return this.shared.everywhere
      .filter(({ except }) => !except.some(({ text }) => text === folder || text === projectName))
      .map(({ name, kind, text, span, line }) => ({
        project: folder,
        kind,
        name,
        written: text,
        meaning: this.rangeOf(name, text),
        when: [],
        targets: this.allTargets,
        isEverywhere: true,
        file: SHARED_FILE,
        span,
        line,
      }));
  }

  /** Exceptions and [everywhere] may only name projects that are there. */
  private refuseUnknownProjects(manifests: ReadonlyMap<string, ProjectManifest>): void {
    const known = new Set([...this.folderByName.keys(), ...manifests.keys()]);
    const named = [
      ...this.shared.exceptions.map(({ project, span }) => ({ text: project, span })),
      ...this.shared.everywhere.flatMap(({ except }) => except),
    ];
    for (const { text, span } of named) {
      if (known.has(text)) continue;
      const meant = this.meantProject(text);
      this.report(SHARED_FILE, [{ code: 'PROJECT_UNKNOWN', name: text, meant, span }]);
    }
  }
}

function agreementsOf(root: RootManifest, shared: SharedManifest): ReadonlyMap<string, Agreement> {
  const agreements = new Map<string, Agreement>();
  const add = (name: string, text: string, set: string | null): void => {
    if (agreements.has(name)) return;
    const range = requireRange(text, policyOf(root.policy, name).prereleases);
    agreements.set(name, { text, range, set });
  };
  for (const [name, { text }] of shared.shared) add(name, text, null);
  for (const set of shared.lockstep) for (const name of set.packages) add(name, set.text, set.name);
  for (const { name, text } of shared.everywhere) add(name, text, null);
  return agreements;
}
