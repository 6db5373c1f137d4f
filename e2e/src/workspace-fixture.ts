import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { promisify } from 'node:util';
import { test as base, type APIRequestContext } from '@playwright/test';

type StorageState = Awaited<ReturnType<APIRequestContext['storageState']>>;

const execute = promisify(execFile);

function setting(name: string): string {
  const value = process.env[name];
  if (value === undefined) throw new Error(`${name} is not set; bin/test sets it`);
  return value;
}

export const REGISTRY = setting('DEEP_LEDGER_REGISTRY');
/** The demo's repository, and beside it the folder that its registry serves. */
export const DEMO = setting('DEEP_LEDGER_REPOSITORY');
export const FERRIES = setting('DEEP_LEDGER_FERRIES');
/** The registry of Wendholm Ferries, and what it wants to be told. */
export const HOUSE = setting('DEEP_LEDGER_HOUSE');
export const HOUSE_TOKEN = 'high-water';

/** A repository of the test's own, open as a workspace. */
export interface TestWorkspace {
  readonly slug: string;
  readonly repository: string;
  /** Runs git in the repository, past the application. */
  git(...args: string[]): Promise<string>;
  /** Commits a changed file to main, past the application. */
  commit(path: string, change: (text: string) => string, message: string): Promise<void>;
}

/** A copy of a bare repository, in a folder of its own. */
export async function copyOf(repository: string): Promise<string> {
  const copy = join(await mkdtemp(join(tmpdir(), 'deep-ledger-e2e-')), basename(repository));
  // As one program it takes a tenth of the time that Node.js takes for several hundred small files.
  await execute('cp', ['-R', repository, copy]);
  return copy;
}

/** A bare copy of the demo's repository. */
export function copyOfDemo(): Promise<string> {
  return copyOf(DEMO);
}

export async function git(cwd: string, ...args: string[]): Promise<string> {
  const { stdout } = await execute('git', args, { cwd });
  return stdout;
}

export async function commitFile(
  repository: string,
  path: string,
  change: (text: string) => string,
  message: string,
): Promise<void> {
  const work = await mkdtemp(join(tmpdir(), 'deep-ledger-work-'));
  await git(work, 'clone', '--quiet', '--branch', 'main', repository, '.');
  const file = join(work, path);
  await writeFile(file, change(await readFile(file, 'utf8').catch(() => '')));
  await git(work, 'add', '--', path);
  await git(
    work,
    '-c',
    'user.name=gate crew',
    '-c',
    'user.email=gate.crew@brindlepeak.example',
    'commit',
    '--quiet',
    '-m',
    message,
  );
  await git(work, 'push', '--quiet', 'origin', 'main');
  await rm(work, { recursive: true, force: true });
}

/** People of the demo; all have one password. */
export type Person = 'platform' | 'kiosk' | 'gate';

export async function signIn(request: APIRequestContext, name: Person): Promise<string> {
  const answer = await request.post('/api/session', {
    data: { name, password: 'brindlepeak demo' },
  });
  if (!answer.ok()) throw new Error(await answer.text());
  return ((await answer.json()) as { csrf: string }).csrf;
}

/** Pages and requests of a test are those of the demo's keeper. */
export const test = base.extend<
  { workspace: TestWorkspace },
  { keeper: { state: StorageState; csrf: string } }
>({
  keeper: [
    async ({ playwright }, use, { project }) => {
      const { baseURL } = project.use;
      const request = await playwright.request.newContext(baseURL === undefined ? {} : { baseURL });
      const csrf = await signIn(request, 'platform');
      await use({ state: await request.storageState(), csrf });
      await request.dispose();
    },
    { scope: 'worker' },
  ],
  storageState: async ({ keeper }, use) => use(keeper.state),
  request: async ({ playwright, keeper, baseURL }, use) => {
    const request = await playwright.request.newContext({
      ...(baseURL === undefined ? {} : { baseURL }),
      storageState: keeper.state,
      extraHTTPHeaders: { 'x-csrf-token': keeper.csrf },
    });
    await use(request);
    await request.dispose();
  },
  workspace: async ({ request }, use) => {
    const repository = await copyOfDemo();
    const opened = await request.post('/api/workspaces', {
      data: { address: repository, branch: 'main', registry: REGISTRY },
    });
    if (!opened.ok()) throw new Error(await opened.text());
    const { slug } = (await opened.json()) as { slug: string };
    await use({
      slug,
      repository,
      git: (...args) => git(repository, ...args),
      commit: (path, change, message) => commitFile(repository, path, change, message),
    });
    await request.delete(`/api/workspaces/${slug}`);
    await rm(join(repository, '..'), { recursive: true, force: true });
  },
});

export { expect } from '@playwright/test';
