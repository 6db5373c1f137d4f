import { SourceScanner, type ScanSettings, type SourceScan } from '@deep-ledger/core';
import { driftOf } from './drift-of.js';
import { mergeOf } from './merge-of.js';

export interface ScanTask {
  readonly settings: ScanSettings;
  readonly files: readonly { readonly path: string; readonly text: string }[];
}

/** Scans some files, in their order. */
export function scanFiles({ settings, files }: ScanTask): readonly SourceScan[] {
  const scanner = new SourceScanner(settings);
  return files.map(({ path, text }) => scanner.scan(path, text));
}

export { driftOf, mergeOf };

/** What worker threads do, by name. */
export interface Tasks {
  readonly scanFiles: typeof scanFiles;
  readonly driftOf: typeof driftOf;
  readonly mergeOf: typeof mergeOf;
}
