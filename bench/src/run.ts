import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { SIZES, type WorldSize } from './generated-world.js';
import { linksOfWorld, prepare, rowsFor, type Row } from './rows.js';
import { Bench } from 'tinybench';

/*
 * Each piece of work beside its floor in the same run: what the plainest thing that touches the same bytes
 * takes. `npm run bench [-- S M L]`; `--long` for the rows that take minutes, each once; without sizes M and L, as growth is the one against the other.
 */
const SEED = 20_261_123;
const ROUNDS = 7;

interface Result {
  readonly size: string;
  readonly work: string;
  readonly workMs: number;
  readonly floor: string;
  readonly floorMs: number;
  readonly ratio: number;
  /** Null: there is no target, it is told for comparison. */
  readonly atMost: number | null;
}

const { values, positionals: names } = parseArgs({
  options: { long: { type: 'boolean', default: false } },
  allowPositionals: true,
});
const sizes = (names.length === 0 ? ['M', 'L'] : names).map((name) => {
  const size = SIZES[name as WorldSize['name']] as WorldSize | undefined;
  if (size === undefined) throw new RangeError(`"${name}" is none of S, M and L`);
  return size;
});

const results: Result[] = [];
const links = new Map<string, number>();
let peakMemoryMb: number | null = null;
for (const size of sizes) {
  const world = prepare(size, SEED);
  links.set(size.name, linksOfWorld(world));
  for (const row of rowsFor(world).filter(({ isLong }) => (isLong === true) === values.long))
    results.push(await measure(size.name, row));
  peakMemoryMb = peakMemory(world.documents, world.files);
  process.stderr.write(
    `${size.name}: ${world.projects} projects, ${world.copies} copies, ${linksOfWorld(world)} links, ${world.releases} releases; peak memory of resolving ${peakMemoryMb} MB\n`,
  );
}
const growth = growthOf('M', 'L');
process.stdout.write(
  `${table(results)}\n${growth === null ? '' : `\nresolving from nothing, L against M: ${growth.time} x the time for ${growth.allowed} x links x log(links)\n`}`,
);
process.stdout.write(`\n${JSON.stringify({ seed: SEED, peakMemoryMb, growth, results })}\n`);

async function measure(size: string, row: Row): Promise<Result> {
  const { work, run, floor, floorRun, atMost, isLong } = row;
  const bench = new Bench({
    time: 0,
    iterations: isLong === true ? 1 : ROUNDS,
    warmupTime: 0,
    warmupIterations: isLong === true ? 1 : 2,
  });
  bench.add('work', () => void run()).add('floor', () => void floorRun());
  await bench.run();
  const [workMs, floorMs] = bench.tasks.map(({ result }) => {
    if (!('latency' in result)) throw new Error(`${work} did not finish`, { cause: result });
    return result.latency.p50;
  }) as [number, number];
  return {
    size,
    work,
    workMs: round(workMs),
    floor,
    floorMs: round(floorMs),
    ratio: round(workMs / floorMs),
    atMost,
  };
}

/** Of a process that does nothing but read the documents and resolve, in MB. */
function peakMemory(
  documents: ReadonlyMap<string, string>,
  files: ReadonlyMap<string, string>,
): number {
  const folder = mkdtempSync(join(tmpdir(), 'bench-'));
  try {
    writeFileSync(join(folder, 'documents'), [...documents.values()].join('\n'));
    writeFileSync(join(folder, 'files'), JSON.stringify([...files]));
    const script = fileURLToPath(new URL('peak-memory.js', import.meta.url));
    const { stdout, stderr, status } = spawnSync(process.execPath, [script, folder], {
      encoding: 'utf8',
    });
    if (status !== 0) throw new Error(stderr);
    return Number(stdout);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

function growthOf(small: string, large: string) {
  const timeOf = (size: string): number | undefined =>
    results.find((one) => one.size === size && one.work === 'resolve from nothing')?.workMs;
  const [a, b] = [timeOf(small), timeOf(large)];
  if (a === undefined || b === undefined) return null;
  const [m, n] = [links.get(small)!, links.get(large)!];
  return { time: round(b / a), allowed: round((n * Math.log(n)) / (m * Math.log(m))) };
}

function round(value: number): number {
  return Math.round(value * 1000) / 1000;
}

function table(rows: readonly Result[]): string {
  const lines = rows.map(({ size, work, workMs, ratio, atMost, floor, floorMs }) => [
    size,
    work,
    `${workMs} ms`,
    `${ratio} x`,
    atMost === null ? '' : `${atMost} x`,
    floor,
    `${floorMs} ms`,
  ]);
  const all = [['', 'work', 'median', 'ratio', 'at most', 'floor', 'median'], ...lines];
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
