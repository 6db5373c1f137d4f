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
  return {
    code: found.problem.code,
    message: manifestProblemMessage(found.problem),
    place: placeOf(files, found.file, found.problem.span),
    isBlocking: isBlocking(found),
  };
}

/** The place of a span of a file; the file's beginning when the file is not there. */
export function placeOf(files: WorkspaceFiles, file: string, span: Span): Place {
  return { file, ...positionAt(lineStarts(files.get(file) ?? ''), span[0]) };
}
