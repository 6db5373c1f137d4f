import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { expect, git, test } from './workspace-fixture.js';
import { draftOf, postDraft, press, row } from './workspace-steps.js';

test('two drafts side by side; edits are moved, taken out and undone, and survive a reload', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/alignment?open=pitonhttp&at=5.6.2`);
  const draft = draftOf(page);
  await page.getByRole('button', { name: 'Pencil it in' }).click();
  const edits = draft.getByRole('list', { name: 'Edits' }).getByRole('listitem');
  await expect(edits).toHaveCount(1);
  await page.goto(`/w/${workspace.slug}/alignment?open=scree-log&at=3.2.1`);
  await page.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(edits).toHaveCount(2);
  await draft.getByRole('button', { name: /^Move down: pitonhttp levelled/ }).click();
  await expect(edits.first()).toContainText('scree-log');
  await draft.getByRole('button', { name: /^Take out: pitonhttp levelled/ }).click();
  await expect(draft.getByRole('button', { name: /^Put back: pitonhttp levelled/ })).toBeVisible();
  await draft.getByRole('button', { name: 'Undo' }).click();
  await draft.getByRole('button', { name: 'Undo' }).click();
  await expect(edits.first()).toContainText('pitonhttp');

  await page.getByRole('link', { name: /^Drafts/ }).click();
  await page.getByRole('button', { name: 'Begin another draft' }).click();
  await expect(draft.getByText('No edits yet.')).toBeVisible();
  await expect(page.getByText(/^2 drafts in pencil/)).toBeVisible();
  await page.getByRole('button', { name: 'level pitonhttp', exact: true }).click();
  await expect(edits).toHaveCount(2);
  await page.reload();
  await expect(edits).toHaveCount(2);
  await draft.getByRole('button', { name: 'Do again' }).click();
  await expect(edits.first()).toContainText('scree-log');
});

test('a draft is posted to a new branch, and saved as a patch that git am takes', async ({
  page,
  workspace,
}) => {
  const before = (await workspace.git('rev-parse', 'main')).trim();
  await page.goto(`/w/${workspace.slug}/alignment?open=pitonhttp&at=5.6.2`);
  await page.getByRole('button', { name: 'Pencil it in' }).click();
  const draft = draftOf(page);
  await draft.getByRole('button', { name: 'Post to main…' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Save as a patch for git am' }).click();
  const patch = await (await download).path();
  await page.getByRole('radio', { name: 'To a new branch' }).click();
  await page.getByLabel('Name of the branch').fill('trial/pitonhttp');
  await page.getByRole('button', { name: 'Post', exact: true }).click();
  await expect(page.getByText('Posted to trial/pitonhttp')).toBeVisible();
  expect((await workspace.git('rev-parse', 'main')).trim()).toBe(before);
  expect((await workspace.git('rev-parse', 'trial/pitonhttp^')).trim()).toBe(before);

  const work = await mkdtemp(join(tmpdir(), 'deep-ledger-am-'));
  await git(work, 'clone', '--quiet', '--branch', 'main', workspace.repository, '.');
  expect(await readFile(patch, 'utf8')).toMatch(
    /^Subject: \[PATCH\] Level pitonhttp at \^5\.6\.2$/m,
  );
  await promisify(execFile)(
    'git',
    ['-c', 'user.name=x', '-c', 'user.email=x@brindlepeak.example', 'am', '--quiet', patch],
    { cwd: work },
  );
  const tree = (await git(work, 'rev-parse', 'HEAD^{tree}')).trim();
  expect(tree).toBe((await workspace.git('rev-parse', 'trial/pitonhttp^{tree}')).trim());
  await rm(work, { recursive: true, force: true });
});

test('the journal tells of posts and commits from outside, compares any two, and takes one back', async ({
  page,
  workspace,
}) => {
  const before = (await workspace.git('rev-parse', 'main')).trim();
  await page.goto(`/w/${workspace.slug}/alignment?open=scree-log&at=3.2.1`);
  await page.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(draftOf(page).getByText('Manifests touched')).toBeVisible();
  await postDraft(page);
  await workspace.commit(
    'services/roster/ledger.project.toml',
    (text) => text.replace('cairn-dates = "shared"', 'cairn-dates = "~2.5.0"'),
    'Roster: newer dates',
  );
  await page.getByRole('button', { name: 'read now' }).click();
  await page.getByRole('link', { name: /^Journal/ }).click();
  await expect(page.getByText(/^1 post and 22 commits from outside/)).toBeVisible();
  const outside = page.getByRole('row').filter({ hasText: 'Roster: newer dates' });
  await expect(outside).toContainText('outside, lockfile kept');
  await page.getByLabel('From commit or branch').fill(before);
  await press(page, page.getByRole('button', { name: 'Compare', exact: true }));
  const manifests = page.getByRole('region', { name: 'Manifests' });
  await expect(manifests).toContainText('services/roster/ledger.project.toml needs cairn-dates');
  await expect(page.getByRole('region', { name: 'Lockfile' })).toContainText('consistent → stale');
  await page.getByRole('button', { name: 'Close' }).click();

  await page.getByRole('button', { name: /^Level scree-log/ }).click();
  await page.getByRole('button', { name: 'Take it back, as a draft' }).click();
  await expect(draftOf(page).getByText('taken back')).toBeVisible();
  await postDraft(page);
  const left = await workspace.git('diff', '--name-only', before, 'main', '--', 'apps', 'libs');
  expect(left).toBe('');
  expect(await workspace.git('diff', before, 'main', '--', 'ledger.shared.toml')).toBe('');
});

test('a project’s page adds, changes and removes requirements, here and in other projects', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/projects`);
  await page.getByLabel('Find a project').fill('kiosk');
  await page.getByRole('link', { name: 'season-kiosk' }).click();
  const line = page.locator('[data-requirement="cairn-dates"]');
  await expect(line).toContainText('takes the shared version');
  await expect(page.locator('[data-requirement="scree-log"]')).toContainText(
    'its own; agreed is ^2.9.0',
  );
  const dialog = page.getByRole('dialog');
  await page.getByRole('button', { name: 'Add a requirement…' }).click();
  await dialog.getByLabel('Package', { exact: true }).fill('penitente-pdf');
  await dialog.getByLabel('Range').fill('^2.0.0');
  await dialog.getByLabel('season-web').check();
  await dialog.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(draftOf(page).getByText('added to 2 projects')).toBeVisible();
  await page.getByRole('button', { name: 'Kind of yodelmark-text' }).click();
  await dialog.getByLabel('Kind').selectOption('dev');
  await dialog.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(draftOf(page).getByText('becomes dev in 1 project')).toBeVisible();
  await page.getByRole('button', { name: 'Remove pitonhttp' }).click();
  await dialog.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(draftOf(page).getByText('dropped by 1 project')).toBeVisible();
  await postDraft(page);
  const manifest = await workspace.git('show', 'main:apps/season-kiosk/ledger.project.toml');
  expect(manifest).not.toContain('pitonhttp');
  expect(manifest).toMatch(/\[needs\.dev\][^[]*yodelmark-text/);
  expect(await workspace.git('show', 'main:apps/season-web/ledger.project.toml')).toContain(
    'penitente-pdf = "^2.0.0"',
  );
});

test('the grid is walked by keys, and a cell says why', async ({ page, workspace }) => {
  await page.goto(`/w/${workspace.slug}/alignment?view=grid`);
  const grid = page.getByRole('grid', { name: 'Packages by projects' });
  await grid.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('[aria-selected="true"]')).toHaveText('(2.4.1)');
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'scree-log in season-kiosk' });
  await expect(dialog).toContainText('It differs from what is agreed.');
  await expect(dialog).toContainText('apps/season-kiosk/ledger.project.toml:');
  await page.keyboard.press('Escape');
  await expect(grid).toBeFocused();
  await page.keyboard.press('End');
  await page.keyboard.press('ArrowDown');
  await expect(grid).toHaveAttribute('aria-activedescendant', 'cell-1-16');
  await page.getByLabel('Packages', { exact: true }).selectOption('all');
  await page.getByLabel('Find a package').fill('rime-headers');
  await page.getByRole('radio', { name: 'Rails' }).click();
  await expect(row(page, 'rime-headers')).toContainText('none yet');
});
