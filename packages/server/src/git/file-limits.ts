import { LOCK_FILE, ROOT_FILE, SHAPES_FILE } from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import type { TreeFile } from './tree-file.js';

/*
 * How much of a repository is read. Each is far beyond what a workspace needs; without them one commit could take the
 * memory of everybody.
 */
const MEBIBYTE = 1 << 20;
const MOST_MANIFEST_BYTES = 2 * MEBIBYTE;
/** Of the files that say how the others are read. */
const MOST_SETTINGS_BYTES = MEBIBYTE / 4;
/** More than 40,000 copies. Its answers are checked on the server's main thread: sending them to it takes longer. */
export const MOST_LOCKFILE_BYTES = 16 * MEBIBYTE;
/** Of all manifests of a commit together. */
const MOST_TOGETHER = 64 * MEBIBYTE;
/** Of a file that is shown. */
export const MOST_SHOWN_BYTES = 8 * MEBIBYTE;

/**
 * @param most bytes of one file; the usual limits of manifests and lockfile when absent
 * @throws Problem FILE_TOO_LARGE
 */
export function demandReadable(
  files: readonly Pick<TreeFile, 'path' | 'bytes'>[],
  most?: number,
): void {
  let together = 0;
  for (const { path, bytes } of files) {
    const limit = most ?? limitOf(path);
    if (bytes > limit)
      throw tooLarge(
        `${path} has ${mebibytes(bytes)}; files of up to ${mebibytes(limit)} are read.`,
      );
    if (path !== LOCK_FILE) together += bytes;
  }
  if (most === undefined && together > MOST_TOGETHER)
    throw tooLarge(
      `The manifests have ${mebibytes(together)} together; up to ${mebibytes(MOST_TOGETHER)} are read.`,
    );
}

function limitOf(path: string): number {
  if (path === LOCK_FILE) return MOST_LOCKFILE_BYTES;
  return path === ROOT_FILE || path === SHAPES_FILE ? MOST_SETTINGS_BYTES : MOST_MANIFEST_BYTES;
}

function tooLarge(detail: string): Problem {
  return new Problem('FILE_TOO_LARGE', 422, 'A file is too large', detail);
}

function mebibytes(bytes: number): string {
  return `${(bytes / MEBIBYTE).toLocaleString('en', { maximumFractionDigits: 2 })} MiB`;
}
