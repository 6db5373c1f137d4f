import {
  closeBooks,
  draftBase,
  lookForNeedless,
  SourceScanner,
  type ClosedBooks,
  type PackageRecords,
  type ScanSettings,
  type SourceScan,
  type SourceUse,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { driftOf } from './drift-of.js';

export interface ScanTask {
  readonly settings: ScanSettings;
  readonly files: readonly { readonly path: string; readonly text: string }[];
}

/** Scans some files, in their order. */
export function scanFiles({ settings, files }: ScanTask): readonly SourceScan[] {
  const scanner = new SourceScanner(settings);
  return files.map(({ path, text }) => scanner.scan(path, text));
}

export interface ClosingTask {
  readonly files: WorkspaceFiles;
  readonly records: PackageRecords;
  readonly today: string;
  readonly use: SourceUse | null;
}

export function closeBooksOf({ files, records, today, use }: ClosingTask): ClosedBooks {
  const base = draftBase(files, records, today);
  return closeBooks(base, { use, needless: lookForNeedless(base) });
}

export { driftOf };

/** What worker threads do, by name. */
export interface Tasks {
  readonly scanFiles: typeof scanFiles;
  readonly closeBooksOf: typeof closeBooksOf;
  readonly driftOf: typeof driftOf;
}
