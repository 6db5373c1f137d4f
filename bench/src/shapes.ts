import { Bench } from 'tinybench';
import { parse as parseYaml } from 'yaml';
import { proposeShapes, readWorkspace } from '@deep-ledger/core';

/*
 * Foreign manifests beside what their plain parsers take for the same texts in the same run. `npm run bench:shapes`.
 */
const MANIFESTS = 1_000;
const FILES = 20_000;
const LINES = 95;
const ROUNDS = 5;
const ROOT = 'format = 1\nname = "w"\nprojects = []\nregistry = "main"\n';

const names = Array.from({ length: LINES }, (_, i) => `firn-${i}`);

function yamlManifest(project: number): string {
  const lines = names.map((name, i) => `  ${name}: ^1.${i}.0   # since ${i}\n`);
  return `app:\n  id: app-${project}\nlibraries:\n${lines.join('')}`;
}

/** What a repository has besides: settings, source, and files in which nothing of the kind stands. */
function otherFile(i: number): readonly [path: string, text: string] {
  if (i % 3 === 0)
    return [
      `src/part-${i}/settings.json`,
      JSON.stringify({ theme: 'dark', size: i, of: [1, 2, 3] }, null, 2),
    ];
  return [`src/part-${i}/module-${i}.ts`, `export const part = ${i};\n`.repeat(20)];
}

const manifests = Array.from(
  { length: MANIFESTS },
  (_, i) => [`apps/app-${i}/build/app.yaml`, yamlManifest(i)] as const,
);
const workspace = new Map([
  ['ledger.toml', ROOT],
  [
    'ledger.shapes.toml',
    'format = 1\n[[manifest]]\nfiles = ["apps/*/build/app.yaml"]\nsyntax = "yaml"\nfolder = 1\nname = "$.app.id"\n[[manifest.requirements]]\nat = "$.libraries"\n',
  ],
  ...manifests,
]);
const repository = new Map([
  ...manifests,
  ...Array.from({ length: FILES - MANIFESTS }, (_, i) => otherFile(i)),
]);

function parsePlainly(files: Iterable<readonly [path: string, text: string]>): number {
  let values = 0;
  for (const [path, text] of files) {
    if (path.endsWith('.yaml')) values += Object.keys(parseYaml(text) as object).length;
    else if (path.endsWith('.json')) values += Object.keys(JSON.parse(text) as object).length;
    else values += text.split('\n').length;
  }
  return values;
}

await measure(
  `reading ${MANIFESTS} manifests of 100 lines in YAML`,
  () => readWorkspace(workspace),
  () => parsePlainly(manifests),
);
await measure(
  `proposing shapes for ${FILES} files`,
  () => proposeShapes(repository),
  () => parsePlainly(repository),
);

async function measure(work: string, run: () => unknown, floor: () => unknown): Promise<void> {
  const bench = new Bench({ time: 0, iterations: ROUNDS, warmupTime: 0, warmupIterations: 1 });
  bench.add('work', () => void run()).add('floor', () => void floor());
  await bench.run();
  const [workMs, floorMs] = bench.tasks.map(({ result }) => {
    if (!('latency' in result)) throw new Error(`${work} did not finish`, { cause: result });
    return result.latency.p50;
  }) as [number, number];
  process.stdout.write(
    `${work}: ${Math.round(workMs)} ms, plain parsing ${Math.round(floorMs)} ms, ${(workMs / floorMs).toFixed(2)} x (at most 3)\n`,
  );
}
