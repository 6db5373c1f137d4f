import { execFile } from 'node:child_process';
import { cp, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { afterAll, beforeAll, expect, test } from 'vitest';

const DIST = fileURLToPath(new URL('../dist', import.meta.url));

let folder: string;
let whole: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'start-'));
  await cp(join(DIST, 'start.cjs'), join(folder, 'start.cjs'));
  await cp(join(DIST, 'bundle'), join(folder, 'bundle'), { recursive: true });
  whole = await said();
});
afterAll(() => rm(folder, { recursive: true }));

/** What a command says that is spread over several files of the bundle. */
async function said(): Promise<string> {
  const args = [join(folder, 'start.cjs'), 'completion', 'bash'];
  const { stdout, stderr } = await promisify(execFile)(process.execPath, args);
  return stdout + stderr;
}

async function codes(): Promise<readonly string[]> {
  const names = await readdir(join(folder, 'bundle'));
  return names.filter((name) => name.endsWith('.code')).map((name) => join(folder, 'bundle', name));
}

test('each file of the bundle has its compiled code beside it', async () => {
  const names = (await readdir(join(folder, 'bundle'))).sort();
  expect(names.filter((name) => name.endsWith('.cjs')).map((name) => `${name}.code`)).toEqual(
    names.filter((name) => name.endsWith('.code')),
  );
  expect(whole).toContain('deep-ledger');
});

test('compiled code of another Node.js, cut short or missing, is done without', async () => {
  const all = await codes();
  for (const path of all) {
    const code = await readFile(path);
    // Here it says which release of the engine it is of.
    code.writeUInt32LE(code.readUInt32LE(4) ^ 1, 4);
    await writeFile(path, code);
  }
  expect(await said()).toBe(whole);
  for (const path of all) await writeFile(path, (await readFile(path)).subarray(0, 100));
  expect(await said()).toBe(whole);
  for (const path of all) await rm(path);
  expect(await said()).toBe(whole);
});
