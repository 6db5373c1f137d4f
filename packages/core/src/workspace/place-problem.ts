import { manifestProblemMessage } from '../manifest/index.js';
import { lineStarts, positionAt, type Place, type Span } from '../text/index.js';
import { isBlocking, type FileProblem, type WorkspaceFiles } from './workspace.js';

/** A problem ready to be shown. */
export interface PlacedProblem {
  readonly code: string;
  readonly message: string;
  readonly place: Place;
  /** While it stands, nothing can be resolved. */
  readonly isBlocking: boolean;
}

export function placeProblem(files: WorkspaceFiles, found: FileProblem): PlacedProblem {
  return placeProblems(files, [found])[0]!;
}

/** O(length of the files with problems + problems). */
export function placeProblems(
  files: WorkspaceFiles,
  all: readonly FileProblem[],
): readonly PlacedProblem[] {
  const places = new Places(files);
  return all.map((found) => ({
    code: found.problem.code,
    message: manifestProblemMessage(found.problem),
    place: places.of(found.file, found.problem.span),
    isBlocking: isBlocking(found),
  }));
}

/** The place of a span of a file; the file's beginning when the file is not there. O(length of the file). */
export function placeOf(files: WorkspaceFiles, file: string, span: Span): Place {
  return new Places(files).of(file, span);
}

/** Places in files, many of them: each file's lines are looked for once. */
export class Places {
  private readonly starts = new Map<string, readonly number[]>();

  constructor(private readonly files: WorkspaceFiles) {}

  /** O(log lines), the first time in a file O(its length). */
  of(file: string, [offset]: Span): Place {
    let starts = this.starts.get(file);
    if (starts === undefined) {
      starts = lineStarts(this.files.get(file) ?? '');
      this.starts.set(file, starts);
    }
    return { file, ...positionAt(starts, offset) };
  }
}
