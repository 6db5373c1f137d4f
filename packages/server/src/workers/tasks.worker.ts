import { readAhead, SourceScanner, type ScanSettings, type SourceScan } from '@deep-ledger/core';
import { compareOf, takeBackOf } from './compare-of.js';
import { driftOf } from './drift-of.js';
import { conflictsOf, mergedSettings, mergeOf } from './merge-of.js';

export interface ScanTask {
  readonly settings: ScanSettings;
  readonly files: readonly { readonly path: string; readonly text: string }[];
}

/** Scans some files, in their order. */
export function scanFiles({ settings, files }: ScanTask): readonly SourceScan[] {
  const scanner = new SourceScanner(settings);
  return files.map(({ path, text }) => scanner.scan(path, text));
}

export { compareOf, conflictsOf, driftOf, mergedSettings, mergeOf, readAhead, takeBackOf };

/** What worker threads do, by name. */
export interface Tasks {
  readonly scanFiles: typeof scanFiles;
  readonly compareOf: typeof compareOf;
  readonly conflictsOf: typeof conflictsOf;
  readonly driftOf: typeof driftOf;
  readonly mergedSettings: typeof mergedSettings;
  readonly mergeOf: typeof mergeOf;
  readonly readAhead: typeof readAhead;
  readonly takeBackOf: typeof takeBackOf;
}
