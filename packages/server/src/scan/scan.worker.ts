import { SourceScanner, type ScanSettings, type SourceScan } from '@deep-ledger/core';

export interface ScanTask {
  readonly settings: ScanSettings;
  readonly files: readonly { readonly path: string; readonly text: string }[];
}

/** Runs in a worker thread: scans some files, in their order. */
export default function scanFiles({ settings, files }: ScanTask): readonly SourceScan[] {
  const scanner = new SourceScanner(settings);
  return files.map(({ path, text }) => scanner.scan(path, text));
}
