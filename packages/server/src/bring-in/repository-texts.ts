import { isOwnFile, type WorkspaceFiles } from '@deep-ledger/core';
import type { GitFiles } from '../git/git-files.js';
import type { TreeFile } from '../git/tree-file.js';

/** The files of a repository that may have a structure, and what was left out. */
export interface RepositoryTexts {
  readonly texts: WorkspaceFiles;
  readonly files: number;
  readonly tooLarge: number;
  readonly notText: number;
  /** There are more, which were not looked at. */
  readonly isCut: boolean;
}

const MOST_FILES = 100_000;
const MEBIBYTE = 1 << 20;
const MOST_BYTES = 2 * MEBIBYTE;
const MOST_TOGETHER = 256 * MEBIBYTE;
/** A file with the character zero this near to its start is no text. */
const LOOKED_AT = 8000;

/** The texts of all files at a commit, within limits. Two processes. */
export async function repositoryTexts(
  files: GitFiles,
  id: string,
  commit: string,
): Promise<RepositoryTexts> {
  const tree = (await files.tree(id, commit)).filter(({ path }) => !isOwnFile(path));
  const small = tree.slice(0, MOST_FILES).filter(({ bytes }) => bytes <= MOST_BYTES);
  const wanted = withinTogether(small);
  const blobs = await files.readBlobs(id, wanted);
  const texts = new Map(
    wanted.flatMap(({ path }, i) => {
      const text = blobs[i]!;
      return text.slice(0, LOOKED_AT).includes('\0') ? [] : [[path, text] as const];
    }),
  );
  return {
    texts,
    files: tree.length,
    tooLarge: Math.min(tree.length, MOST_FILES) - small.length,
    notText: wanted.length - texts.size,
    isCut: tree.length > MOST_FILES || wanted.length < small.length,
  };
}

function withinTogether(files: readonly TreeFile[]): readonly TreeFile[] {
  let together = 0;
  const end = files.findIndex(({ bytes }) => (together += bytes) > MOST_TOGETHER);
  return end < 0 ? files : files.slice(0, end);
}
