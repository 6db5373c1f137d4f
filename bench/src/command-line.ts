import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { execa } from 'execa';
import { quantile } from './quantile.js';

/*
 * What commands take from beginning to end on the demo's repository, beside a Node.js that does nothing: in turns, and the
 * median of each. `npm run bench:cli`.
 */
const ROUNDS = 15;

const root = fileURLToPath(new URL('../..', import.meta.url));
const main = join(root, 'packages/cli/dist/start.cjs');
const folder = await mkdtemp(join(tmpdir(), 'deep-ledger-bench-'));
const registry = join(folder, 'demo/registry');

const COMMANDS: readonly { readonly args: readonly string[]; readonly atMost: number | null }[] = [
  { args: ['--help'], atMost: 2.5 },
  { args: ['check'], atMost: 4 },
  { args: ['trace', 'tarn-json'], atMost: null },
  { args: ['lock', '--registry', registry], atMost: null },
];

/** Milliseconds. Certificates that an environment adds are read at each start, by the floor too, and would flatter the rest. */
async function timeOf(args: readonly string[]): Promise<number> {
  const began = performance.now();
  const { exitCode, stderr } = await execa(process.execPath, args, {
    cwd: join(folder, 'work'),
    env: { NODE_EXTRA_CA_CERTS: undefined },
    reject: false,
  });
  if (exitCode !== 0) throw new Error(`${args.join(' ')} ended with ${exitCode}: ${stderr}`);
  return performance.now() - began;
}

try {
  await execa(process.execPath, [join(root, 'demo/dist/build.js'), '--out', join(folder, 'demo')]);
  await execa('git', [
    'clone',
    '--quiet',
    join(folder, 'demo/brindlepeak.git'),
    join(folder, 'work'),
  ]);
  const floor: number[] = [];
  const times = COMMANDS.map((): number[] => []);
  for (let round = 0; round < ROUNDS; round++) {
    floor.push(await timeOf(['-e', '0']));
    for (const [i, { args }] of COMMANDS.entries()) times[i]!.push(await timeOf([main, ...args]));
  }
  process.stdout.write(`node -e 0: ${quantile(floor, 0.5).toFixed(0)} ms\n`);
  for (const [i, { args, atMost }] of COMMANDS.entries()) {
    const ratio = (quantile(times[i]!, 0.5) / quantile(floor, 0.5)).toFixed(1);
    const asked = atMost === null ? '' : ` (at most ${atMost})`;
    process.stdout.write(`${args[0]}: ${ratio} x${asked}\n`);
  }
} finally {
  await rm(folder, { recursive: true, force: true });
}
