import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Bench } from 'tinybench';
import {
  checkLock,
  draftBase,
  evaluateDraft,
  isWorkspaceFile,
  levelEdits,
  printLock,
  readLock,
  readPackageRecord,
  readWorkspace,
  resolve,
  type PackageRecord,
} from '@deep-ledger/core';

/*
 * What the core does with the demo's workspace, each beside a floor measured in the same run: what a
 * plain `JSON.parse` or `JSON.stringify` of the same content takes.
 */
const root = fileURLToPath(new URL('../..', import.meta.url));
const demo = join(root, '.local/bench-demo');
if (!existsSync(demo))
  execFileSync(process.execPath, [join(root, 'demo/dist/build.js'), '--out', demo]);

const texts = readdirSync(join(demo, 'registry')).map((file) =>
  readFileSync(join(demo, 'registry', file), 'utf8'),
);
const records = new Map(texts.map(recordOf).map((record) => [record.name, record]));
const git = (...args: readonly string[]): string =>
  execFileSync('git', ['-C', join(demo, 'brindlepeak.git'), ...args], { encoding: 'utf8' });
const files = new Map(
  git('ls-tree', '-r', '--name-only', 'main')
    .split('\n')
    .filter(isWorkspaceFile)
    .map((path) => [path, git('show', `main:${path}`)]),
);
const day = '2026-11-16';
const base = draftBase(files, records, day);
const workspace = base.workspace!;
const resolution = base.lock!.resolution!;
const lock = printLock(resolution);
const json = JSON.stringify(resolution);
const edits = levelEdits(workspace, 'scree-log', '3.2.4', day);

function recordOf(text: string): PackageRecord {
  const reading = readPackageRecord(JSON.parse(text));
  if (!reading.ok) throw new Error(reading.problem.message);
  return reading.record;
}

interface Row {
  readonly work: string;
  readonly run: () => unknown;
  readonly floor: string;
  readonly floorRun: () => unknown;
}

const parseDocuments = (): unknown => texts.map((text) => JSON.parse(text) as unknown);
const ROWS: readonly Row[] = [
  {
    work: 'resolve from nothing',
    run: () => resolve({ workspace, records, asOf: day, before: null }),
    floor: 'JSON.parse of the documents',
    floorRun: parseDocuments,
  },
  {
    work: 'resolve with the answers before',
    run: () => resolve({ workspace, records, asOf: day, before: resolution }),
    floor: 'JSON.parse of the documents',
    floorRun: parseDocuments,
  },
  {
    work: 'evaluate a draft',
    run: () => evaluateDraft(base, edits),
    floor: 'JSON.parse of the documents',
    floorRun: parseDocuments,
  },
  {
    work: 'read all package documents',
    run: () => texts.map(recordOf),
    floor: 'JSON.parse of the documents',
    floorRun: parseDocuments,
  },
  {
    work: 'read the workspace',
    run: () => readWorkspace(files),
    floor: 'JSON.parse of the documents',
    floorRun: parseDocuments,
  },
  {
    work: 'parse the lockfile',
    run: () => readLock(lock),
    floor: 'JSON.parse of the same',
    floorRun: () => JSON.parse(json) as unknown,
  },
  {
    work: 'print the lockfile',
    run: () => printLock(resolution),
    floor: 'JSON.stringify of the same',
    floorRun: () => JSON.stringify(resolution),
  },
  {
    work: 'check the lockfile',
    run: () => checkLock(workspace, files),
    floor: 'JSON.parse of the same',
    floorRun: () => JSON.parse(json) as unknown,
  },
];

interface Result {
  readonly work: string;
  readonly workMs: number;
  readonly floor: string;
  readonly floorMs: number;
  readonly ratio: number;
}

const results: Result[] = [];
for (const { work, run, floor, floorRun } of ROWS) {
  const bench = new Bench({ time: 300, iterations: 9, warmupIterations: 5 });
  bench.add('work', run).add('floor', floorRun);
  await bench.run();
  const [workMs, floorMs] = bench.tasks.map((task) => {
    const { result } = task;
    if (!('latency' in result)) throw new Error(`${work} did not finish`);
    return result.latency.p50;
  }) as [number, number];
  results.push({
    work,
    workMs: round(workMs),
    floor,
    floorMs: round(floorMs),
    ratio: round(workMs / floorMs),
  });
}
process.stdout.write(
  `${table(results)}\n\n${JSON.stringify({ peakMemoryMb: Math.round(process.resourceUsage().maxRSS / 1024), results })}\n`,
);

function round(value: number): number {
  return Math.round(value * 1000) / 1000;
}

function table(rows: readonly Result[]): string {
  const lines = rows.map(({ work, workMs, floor, floorMs, ratio }) => [
    work,
    `${workMs} ms`,
    `${ratio} x`,
    floor,
    `${floorMs} ms`,
  ]);
  const all = [['work', 'median', 'ratio', 'floor', 'median'], ...lines];
  const widths = all[0]!.map((_, i) => Math.max(...all.map((line) => line[i]!.length)));
  return all
    .map((line) =>
      line
        .map((cell, i) => cell.padEnd(widths[i]!))
        .join('  ')
        .trimEnd(),
    )
    .join('\n');
}
