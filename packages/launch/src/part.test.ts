import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setImmediate } from 'node:timers/promises';
import getPort from 'get-port';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { startPart } from './part.js';
import { Trouble } from './say.js';

let folder: string;
let port: number;

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'part-'));
  port = await getPort({ host: '127.0.0.1' });
});
afterEach(() => rm(folder, { recursive: true }));

async function start(source: string, signal?: AbortSignal) {
  const script = join(folder, 'part.mjs');
  await writeFile(script, source);
  return startPart(
    'thing',
    [script],
    { PORT: String(port) },
    join(folder, 'log'),
    `http://127.0.0.1:${port}/`,
    signal,
  );
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

const SERVER = `import { createServer } from 'node:http';
console.log('begun');
createServer((_, response) => response.end('ok')).listen(Number(process.env.PORT), '127.0.0.1');
`;

test('a part is ready once it answers, writes to its log, and ends when it is stopped', async () => {
  const part = await start(SERVER);
  expect(isAlive(part.pid)).toBe(true);
  expect(await readFile(join(folder, 'log'), 'utf8')).toBe('begun\n');
  await part.stop();
  expect(isAlive(part.pid)).toBe(false);
  await part.ended;
});

test('a part that does not heed the first word is made to end', async () => {
  const part = await start(`process.on('SIGTERM', () => undefined);\n${SERVER}`);
  await part.stop();
  expect(isAlive(part.pid)).toBe(false);
});

test('a part that ends before it answers is named with its log', async () => {
  await expect(start('console.log("no database"); process.exit(1);')).rejects.toThrow(Trouble);
  await expect(start('process.exit(1);')).rejects.toThrow(/The thing did not start\. See .*log\./);
});

test('waiting for a part can be broken off, and leaves nothing behind', async () => {
  const asking = new AbortController();
  void appears(join(folder, 'pid')).then(() => asking.abort());
  const script = `import { writeFileSync } from 'node:fs';
writeFileSync(${JSON.stringify(join(folder, 'pid'))}, String(process.pid));
setInterval(() => undefined, 1000);`;
  await expect(start(script, asking.signal)).rejects.toThrow(/stopped before it was ready/);
  expect(isAlive(Number(await readFile(join(folder, 'pid'), 'utf8')))).toBe(false);
});

/** When a file is there and has something in it. */
async function appears(file: string): Promise<void> {
  while ((await readFile(file, 'utf8').catch(() => '')) === '') await setImmediate();
}
