import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readPackageRecord, readWorkspace, resolve, type PackageRecord } from '@deep-ledger/core';

/*
 * Reads documents and manifests as run.ts wrote them, resolves from nothing, and prints the peak memory in MB.
 */
const folder = process.argv[2]!;
const records = new Map<string, PackageRecord>();
for (const line of readFileSync(join(folder, 'documents'), 'utf8').split('\n')) {
  const reading = readPackageRecord(JSON.parse(line));
  if (!reading.ok) throw new Error(reading.problem.message);
  records.set(reading.record.name, reading.record);
}
const files = new Map(
  JSON.parse(readFileSync(join(folder, 'files'), 'utf8')) as [string, string][],
);
const { workspace } = readWorkspace(files);
const outcome = resolve({ workspace: workspace!, records, asOf: '2026-11-01', before: null });
if (outcome.kind !== 'answered') throw new Error(outcome.kind);
process.stdout.write(String(Math.round(process.resourceUsage().maxRSS / 1024)));
