import { execFile } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { expect, git, REGISTRY, test } from './workspace-fixture.js';

const execute = promisify(execFile);
const COMMAND = fileURLToPath(new URL('../../bin/deep-ledger', import.meta.url));

test('what a machine has laid out is told by its report; when the branch goes on, the page says what it lacks', async ({
  page,
  workspace,
  request,
  baseURL,
}) => {
  const folder = await mkdtemp(join(tmpdir(), 'deep-ledger-machine-'));
  try {
    const made = await request.post(`/api/workspaces/${workspace.slug}/tokens`, {
      data: { name: 'valley station', scopes: ['report'], lastDay: '2099-12-31' },
    });
    const { secret: token } = (await made.json()) as { secret: string };
    const clone = join(folder, 'clone');
    await git(folder, 'clone', '-q', '-b', 'main', workspace.repository, clone);
    const ledger = async (...args: string[]): Promise<string> => {
      const env = {
        ...process.env,
        DEEP_LEDGER_CACHE: join(folder, 'cache'),
        DEEP_LEDGER_TOKEN: token,
      };
      return (await execute(COMMAND, args, { cwd: clone, env })).stdout;
    };
    const report = [
      'report',
      '--to',
      baseURL!,
      '--workspace',
      workspace.slug,
      '--name',
      'valley-1',
    ];
    await page.goto(`/w/${workspace.slug}/machines`);
    const line = page.getByRole('row').filter({ hasText: 'valley-1' });
    await ledger(...report);
    await expect(line).toBeVisible();
    await expect(line).toContainText('not told');
    expect(await ledger('install', '--registry', REGISTRY, '--target', 'linux-x64')).toContain(
      'installed for 17 projects',
    );
    await ledger(...report);
    await expect(line).toContainText('the same');
    // The branch goes on; what is laid out here stays.
    await ledger('upgrade', 'glacis-router', '--registry', REGISTRY);
    const who = ['-c', 'user.name=gate crew', '-c', 'user.email=gate.crew@brindlepeak.example'];
    await git(clone, ...who, 'commit', '-q', '-am', 'A newer router');
    await git(clone, 'push', '-q', 'origin', 'main');
    await ledger(...report);
    await expect(line).toContainText('lacks glacis-router 6.4.2; still has glacis-router 6.2.1');
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
});
