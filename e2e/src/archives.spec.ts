import { execFile } from 'node:child_process';
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import type { Page } from '@playwright/test';
import { expect, git, test } from './workspace-fixture.js';

const execute = promisify(execFile);
const COMMAND = fileURLToPath(new URL('../../bin/deep-ledger', import.meta.url));
/** Nobody listens there. */
const AWAY = 'http://127.0.0.1:9';

test('the mirror keeps what lockfiles name, and a machine installs from it while the registry is away', async ({
  page,
  workspace,
  baseURL,
}) => {
  const folder = await mkdtemp(join(tmpdir(), 'deep-ledger-mirror-'));
  try {
    await page.goto(`/w/${workspace.slug}/archives`);
    await expect(page.getByText(/^All of the \d+ archives that .* are kept\.$/)).toBeVisible({
      timeout: 120_000,
    });
    await page.getByText('How machines install from here').click();
    await expect(
      page.getByText(`${baseURL}/api/workspaces/${workspace.slug}/archives`),
    ).toBeVisible();

    await page.getByRole('link', { name: 'team', exact: true }).click();
    await page.getByRole('button', { name: 'Make a token…' }).click();
    await page.getByLabel('Machine', { exact: true }).fill('valley station');
    await page.getByLabel('May').selectOption('fetch archives');
    await page.getByRole('button', { name: 'Make it' }).click();
    const secret = (await page.locator('p.select-all').textContent())!;

    const clone = join(folder, 'clone');
    await git(folder, 'clone', '-q', '-b', 'main', workspace.repository, clone);
    const args = ['install', '--registry', AWAY, '--target', 'linux-x64'];
    const env = {
      ...process.env,
      DEEP_LEDGER_CACHE: join(folder, 'cache'),
      DEEP_LEDGER_MIRROR: `${baseURL}/api/workspaces/${workspace.slug}/archives`,
      DEEP_LEDGER_TOKEN: secret,
    };
    const { stdout } = await execute(COMMAND, args, { cwd: clone, env });
    expect(stdout).toContain('installed for 17 projects');
    expect(await readdir(join(folder, 'cache/tmp'))).toEqual([]);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
});

test('what is named, gone and unused is found by typing and by choice, with the keyboard and by its address', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/archives`);
  await expect(page.getByText(/are kept\.$/)).toBeVisible({ timeout: 120_000 });
  await page.keyboard.press('/');
  await page.keyboard.type('scree');
  const rows = page.locator('tbody tr');
  await expect(rows.first()).toContainText('scree-log');
  await expect(page).toHaveURL(/find=scree/);
  await page.reload();
  await expect(page.getByRole('searchbox', { name: 'Find a package' })).toHaveValue('scree');
  await page.getByRole('radio', { name: /^gone/ }).click();
  await expect(rows).toHaveText(['Nothing here has “scree” in its name.']);
  await page.getByRole('searchbox', { name: 'Find a package' }).fill('');
  await expect(rows).toHaveText(['The registries still have everything.']);
  const before = await looked(page, workspace.slug);
  await page.getByRole('button', { name: 'Check all now' }).click();
  await expect.poll(() => looked(page, workspace.slug)).not.toBe(before);
});

/** When the mirror went through the lockfiles last. */
async function looked(page: Page, slug: string): Promise<string> {
  const answer = await page.request.get(`/api/workspaces/${slug}/archives`);
  return ((await answer.json()) as { lookedAt: string }).lookedAt;
}
