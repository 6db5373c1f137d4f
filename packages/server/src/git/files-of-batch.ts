import type { WorkspaceFiles } from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';

/**
 * The answer of `git cat-file --batch`: `oid type size LF content LF` for each, in the order asked.
 * @throws Problem FILE_NOT_UTF8
 */
export function filesOfBatch(
  batch: Buffer,
  blobs: readonly { readonly path: string }[],
): WorkspaceFiles {
  const decoder = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });
  const files = new Map<string, string>();
  let at = 0;
  for (const { path } of blobs) {
    const end = batch.indexOf(10, at);
    const size = Number(batch.subarray(at, end).toString('latin1').split(' ')[2]);
    const content = batch.subarray(end + 1, end + 1 + size);
    at = end + 1 + size + 1;
    try {
      files.set(path, decoder.decode(content));
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
