import {
  closeBooks,
  draftBase,
  needlessCopies,
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
  /** Look for needless copies as well, which resolves for each package that has several. */
  readonly looksForNeedless: boolean;
}

export function closeBooksOf({
  files,
  records,
  today,
  use,
  looksForNeedless,
}: ClosingTask): ClosedBooks {
  const base = draftBase(files, records, today);
  const { workspace, lock, engine } = base;
  const resolution = lock?.resolution ?? null;
  const needless =
    looksForNeedless && workspace !== null && resolution !== null
      ? needlessCopies(engine, { workspace, asOf: today }, resolution)
      : null;
  return closeBooks(base, { use, needless });
}

export { driftOf };

/** What worker threads do, by name. */
export interface Tasks {
  readonly scanFiles: typeof scanFiles;
  readonly closeBooksOf: typeof closeBooksOf;
  readonly driftOf: typeof driftOf;
}
