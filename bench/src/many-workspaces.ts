import { cp, mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { startStack } from '@deep-ledger/launch/stack';
import { SIZES } from './generated-world.js';
import { writeWorld } from './page-world.js';
import { prepare } from './rows.js';
import { ask, signIn } from './session.js';

/*
 * How much memory a server takes when many workspaces of size M are opened and read in turn. `npm run bench:many`.
 */
const SEED = 20_261_123;
const WORKSPACES = 20;
const TOLD_AFTER = [1, 5, 10, 15, 20];

const root = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '');
const folder = await mkdtemp(join(tmpdir(), 'deep-ledger-bench-'));
try {
  const world = await writeWorld(prepare(SIZES.M, SEED), join(folder, 'world'));
  for (const limit of [1024, 64]) process.stdout.write(`${await opened(world, limit)}\n`);
} finally {
  await rm(folder, { recursive: true, force: true });
}

/** Opens copies of a world one after another. @param limit in MiB, as the server is told @returns what it took */
async function opened(
  world: { readonly documents: string; readonly repository: string },
  limit: number,
): Promise<string> {
  process.env['DEEP_LEDGER_MEMORY_MIB'] = String(limit);
  const stack = await startStack({
    root,
    folder: join(folder, String(limit)),
    port: null,
    isDurable: false,
    today: '2026-11-16',
    tell: () => {},
    world,
  });
  try {
    const session = await signIn(stack.url);
    const told: string[] = [];
    for (let i = 1; i <= WORKSPACES; i++) {
      const address = join(folder, `${limit}-${i}.git`);
      await cp(world.repository, address, { recursive: true });
      const body = { address, registry: stack.registryUrl };
      const answer = await ask(session, `${stack.url}/api/workspaces`, { method: 'POST', body });
      const { slug } = (await answer.json()) as { slug: string };
      await (await ask(session, `${stack.url}/api/workspaces/${slug}/alignment`)).arrayBuffer();
      if (TOLD_AFTER.includes(i)) told.push(`${await residentMiB(stack.serverPid)} after ${i}`);
    }
    return `size M, at most ${limit} MiB of workspaces kept: the server has ${told.join(', ')} MiB`;
  } finally {
    await stack.stop();
  }
}

/** Of a process, as Linux tells it. */
async function residentMiB(pid: number): Promise<number> {
  const status = await readFile(`/proc/${pid}/status`, 'utf8');
  return Math.round(Number(/^VmRSS:\s+(\d+) kB/m.exec(status)![1]) / 1024);
}
