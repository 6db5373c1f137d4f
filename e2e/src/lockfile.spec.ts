import { execFile } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { draftOf, postDraft, press, row } from './workspace-steps.js';
import { expect, git, test } from './workspace-fixture.js';

const execute = promisify(execFile);
const COMMAND = fileURLToPath(new URL('../../bin/deep-ledger', import.meta.url));

test('the lockfile page says since when a copy is there, by whom, what forces it, and why it changed', async ({
  page,
}) => {
  await page.goto('/w/brindlepeak/lockfile?q=tarn-json');
  await expect(page.getByText('It answers every requirement as it is written.')).toBeVisible();
  const copies = page.getByRole('list', { name: 'Copies' });
  await expect(copies.getByRole('listitem')).toHaveCount(2);
  const first = copies.getByRole('button').first();
  await expect(first).toContainText(/\d{4}/);
  await press(page, first);
  await expect(copies.getByText('Demanded by')).toBeVisible();
  await expect(copies.getByText(/copies are forced: no release meets any two of/)).toBeVisible();
  await expect(copies.getByText(/^sha512-/)).toBeVisible();
  await expect(page).toHaveURL(/open=tarn-json/);
  await page
    .getByRole('button', { name: /^Why: what/ })
    .first()
    .click();
  await expect(page.getByText('Lockfile consistent → consistent')).toBeVisible();
  await expect(page.getByText(/written otherwise/)).toBeVisible();
});

test('a stale lockfile is repaired by a draft with the fewest changes', async ({
  page,
  workspace,
}) => {
  await workspace.commit(
    'apps/slope-board/ledger.project.toml',
    (text) => text.replace('[needs]\n', '[needs]\nnunatak-ids = "^1.0.0"\n'),
    'Slope board names its signs',
  );
  await page.goto(`/w/${workspace.slug}/lockfile`);
  await page.getByRole('button', { name: 'read now' }).click();
  await expect(page.getByText('The lockfile is stale: 1 reason')).toBeVisible();
  await page.getByRole('button', { name: 'Repair it with the fewest changes, as a draft' }).click();
  await expect(draftOf(page).getByText('in pencil until it is posted')).toBeVisible();
  await postDraft(page);
  await expect(page.getByText('It answers every requirement as it is written.')).toBeVisible();
  const names = await workspace.git('log', '-1', '--name-only', '--format=', 'main');
  expect(names.trim()).toBe('ledger.lock');
});

test('two branches that changed one requirement are merged at the desk, by keys alone', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/merge`);
  await press(page, page.getByRole('button', { name: 'desk-printer' }));
  const card = page.getByRole('region', { name: 'Conflict: needs scree-log' });
  await expect(card.getByText('not decided')).toBeVisible();
  await press(page, card.getByRole('button', { name: /take desk-printer/ }));
  await expect(card.getByText('decided', { exact: true })).toBeVisible();
  const result = page.getByRole('region', { name: 'Result' });
  await expect(result.getByText('The lockfile after it')).toBeVisible();
  await press(page, result.getByRole('button', { name: 'Post the merge to main' }));
  await expect(page.getByText(/could be merged into main/)).toBeVisible();
  const parents = await workspace.git('log', '-1', '--format=%P', 'main');
  expect(parents.trim().split(' ')).toHaveLength(2);
  expect(await workspace.git('show', 'main:apps/pass-office/ledger.project.toml')).toContain(
    'scree-log = "~3.0.0"',
  );
  await page.goto(`/w/${workspace.slug}/lockfile`);
  await expect(page.getByText('It answers every requirement as it is written.')).toBeVisible();
});

test('drift says what a fresh resolution would change, by whose range, and over the year', async ({
  page,
}) => {
  await page.goto('/w/brindlepeak/drift');
  await expect(page.getByText(/differs from the lockfile in \d+ copies/)).toBeVisible();
  const line = page.getByRole('row').filter({ hasText: 'cairn-dates' }).first();
  await expect(line).toContainText(/2\.4\.1.*2\.4\.5.*patch/);
  await expect(page.getByText('week by week')).toBeVisible();
  await page.getByLabel('Day', { exact: true }).fill('2026-11-09');
  await page.getByLabel('Against the day').fill('2026-10-19');
  await page.getByRole('button', { name: 'Show' }).click();
  await expect(page).toHaveURL(/day=2026-11-09&from=2026-10-19/);
  await expect(page.getByText(/on 9 Nov 2026 .*a resolution on 19 Oct 2026/)).toBeVisible();
});

test('a build run that reports appears among the machines without reloading', async ({
  page,
  request,
  workspace,
  baseURL,
}) => {
  const { slug } = workspace;
  const made = await request.post(`/api/workspaces/${slug}/tokens`, {
    data: { name: 'nightly', scopes: ['report'], lastDay: '2099-01-01' },
  });
  const { secret } = (await made.json()) as { secret: string };
  await page.goto(`/w/${slug}/machines`);
  await expect(page.getByText('No machine has reported within the last 30 days.')).toBeVisible();
  const work = await mkdtemp(join(tmpdir(), 'deep-ledger-report-'));
  await git(work, 'clone', '--quiet', '--branch', 'main', workspace.repository, '.');
  const report = (name: string, token: string) =>
    execute(
      COMMAND,
      ['report', '--to', baseURL!, '--workspace', slug, '--kind', 'build', '--name', name],
      { cwd: work, env: { ...process.env, DEEP_LEDGER_TOKEN: token } },
    );
  const { stdout } = await report('nightly', secret);
  expect(stdout).toMatch(/^Reported nightly: lockfile [0-9a-f]{8}\./);
  await expect(page.getByRole('row').filter({ hasText: 'nightly' })).toContainText(
    'where main stands',
  );
  await expect(report('nightly', 'not-a-token')).rejects.toMatchObject({
    code: 2,
    stderr: expect.stringContaining('The token is unknown') as unknown,
  });
  await rm(work, { recursive: true });
});

test('what others draft and post appears without reloading', async ({
  page,
  context,
  workspace,
}) => {
  const { slug } = workspace;
  await page.goto(`/w/${slug}/journal`);
  await expect(page.getByText('read just now')).toBeVisible();
  const other = await context.newPage();
  await other.goto(`/w/${slug}/alignment?open=scree-log&q=scree-log`);
  await expect(row(other, 'scree-log')).toBeVisible();
  await other.getByRole('slider').focus();
  await other.keyboard.press('Enter');
  await expect(page.getByRole('link', { name: /Drafts\s*1/ })).toBeVisible();
  await postDraft(other);
  await expect(
    page.getByRole('main').getByRole('button', { name: /^Level scree-log/ }),
  ).toBeVisible();
  await expect(page.getByRole('link', { name: 'Drafts', exact: true })).toBeVisible();
});
