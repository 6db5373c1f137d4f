import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { GitSpawner } from '@deep-ledger/server/git-spawner';

/*
 * How long a process answers nobody while it calls git, beside a process that holds nothing: one that holds 500 MB, by itself and
 * through the small process that starts git for the server.
 */
const CALLS = 50;
const HELD_MB = 500;

/** Milliseconds for one call: until the process can do something else, and until git has answered. */
interface Times {
  readonly held: number;
  readonly whole: number;
}

async function timesOf(call: () => Promise<unknown>): Promise<Times> {
  await call();
  let [held, whole] = [0, 0];
  for (let i = 0; i < CALLS; i++) {
    const began = performance.now();
    const answer = call();
    held += performance.now() - began;
    await answer;
    whole += performance.now() - began;
  }
  return { held: held / CALLS, whole: whole / CALLS };
}

function direct(): Promise<unknown> {
  return once(spawn('git', ['--version'], { stdio: ['ignore', 'pipe', 'pipe'] }), 'close');
}

const spawner = new GitSpawner();
const floor = await timesOf(direct);
const memory = Array.from({ length: HELD_MB }, (_, i) => Buffer.alloc(1 << 20, i % 255));
const [itself, through] = [
  await timesOf(direct),
  await timesOf(() => spawner.run(['--version'], { limitMs: 60_000 })),
];
await spawner.close();

const print = (line: string): boolean => process.stdout.write(`${line}\n`);
const beside = (times: Times): string =>
  `answers nobody for ${(times.held / floor.held).toFixed(2)} x, has the answer after ${(times.whole / floor.whole).toFixed(2)} x`;
print(
  `beside a process that holds nothing: ${floor.held.toFixed(1)} ms, and ${floor.whole.toFixed(1)} ms`,
);
print(`one that holds ${memory.length} MB, by itself: ${beside(itself)}`);
print(`through a small process: ${beside(through)} (at most 0.5 x and 2 x)`);
