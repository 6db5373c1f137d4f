import type { WorkspaceFiles } from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';

/** The contents in the answer of `git cat-file --batch`: `oid type size LF content LF` for each, in the order asked. */
export function contentsOfBatch(batch: Buffer, count: number): readonly Buffer[] {
  let at = 0;
  return Array.from({ length: count }, () => {
    const end = batch.indexOf(10, at);
    const size = Number(batch.subarray(at, end).toString('latin1').split(' ')[2]);
    at = end + 1 + size + 1;
    return batch.subarray(end + 1, end + 1 + size);
  });
}

/**
 * The same as texts by path.
 * @throws Problem FILE_NOT_UTF8
 */
export function filesOfBatch(
  batch: Buffer,
  blobs: readonly { readonly path: string }[],
): WorkspaceFiles {
  const decoder = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });
  const files = new Map<string, string>();
  const contents = contentsOfBatch(batch, blobs.length);
  for (const [i, { path }] of blobs.entries()) {
    try {
      files.set(path, decoder.decode(contents[i]));
    } catch {
      throw new Problem(
        'FILE_NOT_UTF8',
        422,
        'A file is not UTF-8',
        `${path} is not UTF-8 text. Save it as UTF-8 and commit it.`,
      );
    }
  }
  return files;
}
