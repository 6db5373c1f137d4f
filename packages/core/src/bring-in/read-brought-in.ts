import {
  placeProblems,
  readWorkspace,
  SHAPES_FILE,
  type FileProblem,
  type PlacedProblem,
  type Workspace,
  type WorkspaceFiles,
  type WorkspaceReading,
} from '../workspace/index.js';
import { filesOfShape, type ManifestShape } from '../shape/index.js';
import { readSample, type Sample } from './read-sample.js';

/** What one shape reads, over all its files. */
export interface ShapeFigures {
  /** As the shape has them: which it is, where others could not be used. */
  readonly patterns: readonly string[];
  /** Sorted. */
  readonly paths: readonly string[];
  /** Files that say their project's name. */
  readonly named: number;
  /** For each of its places: files in which something stands there, and how many requirements in all. */
  readonly places: readonly { readonly files: number; readonly requirements: number }[];
  /** Requirements that are no ranges. */
  readonly foreign: number;
  /** Files in which it reads nothing, sorted. */
  readonly empty: readonly string[];
}

/** A repository as shapes read it that are not written yet. */
export interface BroughtIn {
  /** Null: `ledger.toml` says nothing that can be used. */
  readonly workspace: Workspace | null;
  /** One for each shape that can be used, in their order. */
  readonly shapes: readonly ShapeFigures[];
  /** Agreed versions, wherever they stand. */
  readonly agreed: number;
  /** Versions that are installed by other means. */
  readonly adopted: number;
  /** The first of them, those of our own files before others. */
  readonly problems: readonly PlacedProblem[];
  readonly problemCount: number;
  /** Null: no shape reads the file that was asked for. */
  readonly sample: Sample | null;
}

const MOST_PROBLEMS = 100;

/**
 * Reads a repository with files of ours that it does not have yet.
 * @param files all its texts, ours among them
 * @param sample the path of a file that is to be shown with what is read in it
 * @param before an earlier reading of the same repository
 * O(length of the files that shapes describe + files x shapes).
 */
export function readBroughtIn(
  files: WorkspaceFiles,
  sample: string | null,
  before?: WorkspaceReading,
): { readonly reading: WorkspaceReading; readonly found: BroughtIn } {
  const reading = readWorkspace(files, before);
  const { workspace, problems } = reading;
  const sorted = [...problems].sort((a, b) => ownFirst(a) - ownFirst(b));
  return {
    reading,
    found: {
      workspace,
      shapes: (workspace?.shapes.manifests ?? []).map((shape) => figuresOf(shape, reading)),
      agreed: workspace?.shared.shared.size ?? 0,
      adopted: workspace?.adopted.length ?? 0,
      problems: placeProblems(files, sorted.slice(0, MOST_PROBLEMS)),
      problemCount: problems.length,
      sample: sample === null || workspace === null ? null : readSample(files, workspace, sample),
    },
  };
}

function ownFirst({ file }: FileProblem): number {
  return file === SHAPES_FILE ? 0 : 1;
}

function figuresOf(shape: ManifestShape, { foreign }: WorkspaceReading): ShapeFigures {
  const isOf = filesOfShape(shape);
  const read = [...foreign.readings].filter(([path, one]) => one.shape === shape && isOf(path));
  const requirements = read.flatMap(([path, { manifest }]) =>
    (manifest?.requirements ?? []).map((one) => ({ path, ...one })),
  );
  return {
    patterns: shape.files,
    paths: read.map(([path]) => path),
    named: read.filter(([, { manifest }]) => manifest?.name != null).length,
    places: shape.requirements.map((_, i) => {
      const own = requirements.filter(({ place }) => place.block === i);
      return { files: new Set(own.map(({ path }) => path)).size, requirements: own.length };
    }),
    foreign: requirements.filter(({ written }) => written === null).length,
    empty: read.flatMap(([path, { manifest }]) =>
      (manifest?.requirements.length ?? 0) === 0 ? [path] : [],
    ),
  };
}
