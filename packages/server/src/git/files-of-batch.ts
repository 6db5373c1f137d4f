import type { WorkspaceFiles } from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';

/**
 * The contents in the answer of `git cat-file --batch`: `oid blob size LF content LF` for each, in the order asked.
 * @throws Error where git does not have one
 */
export function contentsOfBatch(batch: Buffer, count: number): readonly Buffer[] {
  let at = 0;
  return Array.from({ length: count }, () => {
    const end = batch.indexOf(10, at);
    const header = batch.subarray(at, end).toString('latin1');
    const size = /^\S+ blob (\d+)$/.exec(header)?.[1];
    if (size === undefined) throw new Error(`git cat-file says: ${header}`);
    at = end + 1 + Number(size) + 1;
    return batch.subarray(end + 1, at - 1);
  });
}

const DECODER = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });

/** Null: it is not UTF-8. */
export function decoded(content: Buffer): string | null {
  try {
    return DECODER.decode(content);
  } catch {
    return null;
  }
}

/**
 * The same as texts by path.
 * @throws Problem FILE_NOT_UTF8
 */
export function filesOfBatch(
  batch: Buffer,
  blobs: readonly { readonly path: string }[],
): WorkspaceFiles {
  const files = new Map<string, string>();
  const contents = contentsOfBatch(batch, blobs.length);
  for (const [i, { path }] of blobs.entries()) {
    const text = decoded(contents[i]!);
    if (text === null)
      throw new Problem(
        'FILE_NOT_UTF8',
        422,
        'A file is not UTF-8',
        `${path} is not UTF-8 text. Save it as UTF-8 and commit it.`,
      );
    files.set(path, text);
  }
  return files;
}
