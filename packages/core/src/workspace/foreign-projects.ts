import type { ManifestProblem, ProjectManifest, WrittenRequirement } from '../manifest/index.js';
import {
  filesOfShape,
  readForeignManifest,
  type ForeignReading,
  type ManifestShape,
  type Shapes,
} from '../shape/index.js';
import {
  SHAPES_FILE,
  type FileProblem,
  type ForeignFile,
  type WorkspaceFiles,
  type UnresolvedRequirement,
} from './workspace.js';

/** A foreign manifest as it was read from a text. */
export interface KnownForeign extends ForeignReading {
  readonly text: string;
  readonly shape: ManifestShape;
}

/** A project as its foreign manifests, together, describe it. */
export interface ForeignProject {
  readonly manifest: ProjectManifest;
  readonly files: readonly ForeignFile[];
  readonly unresolved: readonly UnresolvedRequirement[];
  /** What its manifests say against each other. */
  readonly problems: readonly FileProblem[];
  /** What it was made of. */
  readonly readings: readonly KnownForeign[];
}

export interface ForeignProjects {
  /** By folder, sorted. */
  readonly projects: ReadonlyMap<string, ForeignProject>;
  /** Folders of which a manifest cannot be read. */
  readonly unreadable: readonly string[];
  readonly readings: ReadonlyMap<string, KnownForeign>;
  readonly problems: readonly FileProblem[];
}

export const NO_FOREIGN: ForeignProjects = {
  projects: new Map(),
  unreadable: [],
  readings: new Map(),
  problems: [],
};

/**
 * The projects that shapes describe. Manifests of one folder are one project; what did not change since an earlier
 * reading is the same object.
 * @param ahead files that were read already, by these shapes
 * O(length of the files that changed + files x shapes).
 */
export function foreignProjects(
  files: WorkspaceFiles,
  { manifests: shapes, isStrict }: Shapes,
  workspaceName: string,
  before: ForeignProjects,
  ahead?: ReadonlyMap<string, ForeignReading>,
): ForeignProjects {
  const readings = new Map<string, KnownForeign>();
  const problems: FileProblem[] = [];
  const byFolder = new Map<string, ForeignFile[]>();
  const paths = [...files.keys()].sort();
  for (const shape of shapes) {
    const isOf = filesOfShape(shape);
    const own = paths.filter((path) => !readings.has(path) && isOf(path));
    if (own.length === 0)
      problems.push({
        file: SHAPES_FILE,
        problem: { code: 'SHAPE_WITHOUT_MATCH', files: shape.files, span: shape.span },
      });
    for (const file of own) {
      const text = files.get(file)!;
      const kept = before.readings.get(file);
      const isSame = kept?.text === text && kept.shape === shape;
      const reading = isSame
        ? kept
        : { text, shape, ...(ahead?.get(file) ?? readForeignManifest(text, shape)) };
      readings.set(file, reading);
      for (const problem of reading.problems) problems.push({ file, problem });
      const folder = folderAbove(file, shape.levels);
      byFolder.set(folder, [...(byFolder.get(folder) ?? []), { file, shape }]);
    }
  }
  const projects = new Map<string, ForeignProject>();
  const unreadable: string[] = [];
  for (const [folder, own] of [...byFolder].sort(([a], [b]) => (a < b ? -1 : 1))) {
    const read = own.map(({ file }) => readings.get(file)!);
    if (read.some(({ manifest }) => manifest === null)) {
      unreadable.push(folder);
      continue;
    }
    const kept = before.projects.get(folder);
    const isSame =
      // Without a name of its own, the project at the root is called as the workspace is.
      folder !== '.' &&
      kept?.readings.length === read.length &&
      kept.readings.every((one, i) => one === read[i]);
    const project = isSame ? kept : joined(folder, own, read, workspaceName, isStrict);
    projects.set(folder, project);
    for (const problem of project.problems) problems.push(problem);
  }
  return { projects, unreadable, readings, problems };
}

function folderAbove(file: string, levels: number): string {
  const parts = file.split('/').slice(0, -1);
  const kept = parts.slice(0, Math.max(0, parts.length - levels));
  return kept.length === 0 ? '.' : kept.join('/');
}

function joined(
  folder: string,
  files: readonly ForeignFile[],
  readings: readonly KnownForeign[],
  workspaceName: string,
  isStrict: boolean,
): ForeignProject {
  const problems: FileProblem[] = [];
  const manifests = readings.map(({ manifest }) => manifest!);
  const name = manifests.find((one) => one.name !== null)?.name ?? null;
  const seen = new Map<string, string>();
  const unresolved: UnresolvedRequirement[] = [];
  const requirements = manifests.flatMap((manifest, i) =>
    manifest.requirements.flatMap((one): WrittenRequirement[] => {
      const { file, shape } = files[i]!;
      const { kind, name: wanted, written, text, when, span, line } = one;
      if (written === null) {
        unresolved.push({ name: wanted, text, file, line });
        if (isStrict)
          problems.push({ file, problem: { code: 'RANGE_FOREIGN', name: wanted, text, span } });
        return [];
      }
      const key = `${kind === 'peer' ? 'peer ' : ''}${wanted}`;
      const first = seen.get(key);
      if (first !== undefined && first !== file) {
        const problem: ManifestProblem = {
          code: 'REQUIRED_TWICE',
          name: wanted,
          kinds: [kind, kind],
          span,
        };
        problems.push({ file, problem });
        return [];
      }
      seen.set(key, file);
      const { shared, workspace } = shape.spelling;
      return [
        {
          kind,
          name: wanted,
          written,
          when,
          span,
          line,
          file,
          lacks: { shared: shared === null, workspace: workspace === null },
        },
      ];
    }),
  );
  return {
    manifest: {
      name: name?.text ?? (folder === '.' ? workspaceName : folder.split('/').at(-1)!),
      nameSpan: name?.span ?? [0, 0],
      version: manifests.find(({ version }) => version !== null)?.version ?? null,
      ships: manifests.some(({ ships }) => ships === 'library') ? 'library' : 'app',
      requirements,
      implicit: [],
    },
    files,
    unresolved,
    problems,
    readings,
  };
}
