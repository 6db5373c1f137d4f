import { structuredPatch } from 'diff';

export interface DiffLine {
  readonly mark: 'same' | 'added' | 'removed';
  readonly text: string;
  /** Line numbers from 1 in the file before and after; null where it has no such line. */
  readonly before: number | null;
  readonly after: number | null;
}

/** What becomes of one file, in hunks with three lines of context. */
export interface FileDiff {
  readonly path: string;
  readonly isNew: boolean;
  readonly added: number;
  readonly removed: number;
  readonly hunks: readonly (readonly DiffLine[])[];
}

/** Source of the algorithm behind `structuredPatch`: E. Myers, An O(ND) difference algorithm, 1986. */
export function fileDiff(path: string, before: string | null, after: string): FileDiff {
  const patch = structuredPatch(path, path, before ?? '', after, undefined, undefined, {
    context: 3,
  });
  const hunks = patch.hunks.map(({ oldStart, newStart, lines }) => {
    let old = oldStart;
    let now = newStart;
    return lines
      .filter((line) => !line.startsWith('\\'))
      .map((line): DiffLine => {
        const text = line.slice(1);
        if (line.startsWith('+')) return { mark: 'added', text, before: null, after: now++ };
        if (line.startsWith('-')) return { mark: 'removed', text, before: old++, after: null };
        return { mark: 'same', text, before: old++, after: now++ };
      });
  });
  const count = (mark: DiffLine['mark']): number =>
    hunks.flat().filter((line) => line.mark === mark).length;
  return { path, isNew: before === null, added: count('added'), removed: count('removed'), hunks };
}
