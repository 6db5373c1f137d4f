import { expect, test, type TestWorkspace } from './workspace-fixture.js';
import { press, row } from './workspace-steps.js';

/** What git says of the post, not the application. */
async function expectCommit(workspace: TestWorkspace, base: string): Promise<void> {
  const { git } = workspace;
  expect((await git('rev-parse', 'main^')).trim()).toBe(base);
  expect(await git('log', '-1', '--format=%an <%ae>%n%s', 'main')).toBe(
    'platform crew <platform.crew@brindlepeak.example>\nLevel scree-log at ^3.2.1\n',
  );
  const names = (await git('diff', '--name-only', base, 'main')).trim().split('\n');
  expect(names).toEqual([
    'apps/pass-office/ledger.project.toml',
    'apps/season-kiosk/ledger.project.toml',
    'apps/season-web/ledger.project.toml',
    'apps/slope-board/ledger.project.toml',
    'ledger.lock',
    'ledger.shared.toml',
    'services/avalanche-watch/ledger.project.toml',
    'services/fare-engine/ledger.project.toml',
  ]);
  const patch = await git(
    'log',
    '-1',
    '-p',
    '--unified=0',
    'main',
    '--',
    'ledger.shared.toml',
    'apps/season-kiosk',
  );
  const lines = patch.split('\n').filter((line) => /^[+-][^+-]/.test(line));
  expect(lines).toEqual([
    '-scree-log = "2.4.1"                 # last line that the kiosk image has been tested with',
    '+scree-log = "shared"                 # last line that the kiosk image has been tested with',
    '-scree-log = "^2.9.0"          # the log store reads the 2.9 line format',
    '+scree-log = "^3.2.1"          # the log store reads the 2.9 line format',
  ]);
  const lock = await git('show', 'main:ledger.lock');
  expect(lock).toContain('  runtime scree-log "shared" as "^3.2.1" by 3.2.1\n');
  expect(lock).not.toContain('copy scree-log 2.4.1');
}

test('the whole path, by pointer', async ({ page, workspace }) => {
  const base = (await workspace.git('rev-parse', 'main')).trim();
  await page.goto('/');
  await page.getByRole('row').filter({ hasText: workspace.repository }).getByRole('link').click();

  await expect(page.getByText(/^11 of 23 shared packages are out of line/)).toBeVisible();
  await page.getByRole('link', { name: /^Alignment/ }).click();
  await expect(page.getByText('23 packages are required by two or more projects.')).toBeVisible();
  await expect(page.getByText('11 are out of line.')).toBeVisible();
  const first = page.locator('tr[data-package]').first();
  await expect(first).toContainText('scree-log');
  await expect(row(page, 'scree-log')).toContainText('(6)');
  await expect(row(page, 'scree-log').getByRole('img')).toHaveAttribute(
    'aria-label',
    /in line 7 at 2\.9\.4\. Out of line 1 at 2\.4\.1, .*Newest 3\.3\.0\./,
  );

  await row(page, 'scree-log').click();
  const panel = page.getByRole('group', { name: 'Package panel of scree-log' });
  // A pencil comes before it once it is known that its manifest would change.
  await expect(panel.getByText(/^(✎ )?season-kiosk$/)).toBeVisible();
  await expect(panel.getByText('~2.9.1', { exact: true })).toBeVisible();

  await panel.getByRole('radio', { name: '3.3.0' }).click();
  await expect(panel.getByText('The workspace has no answer then.')).toBeVisible();
  await expect(
    panel.getByText(
      "scree-log 3.3.0 asks for runtime >=22; the workspace's platform offers 20.11.0.",
    ),
  ).toBeVisible();
  await expect(panel.getByRole('button', { name: 'Pencil it in' })).toBeDisabled();

  await panel.getByRole('radio', { name: '3.2.1' }).click();
  await expect(panel.getByText('4 of 13 already allow it.')).toBeVisible();
  await expect(page).toHaveURL(/open=scree-log&at=3\.2\.1/);
  await panel.getByRole('button', { name: 'Pencil it in' }).click();

  const draft = page.getByRole('complementary', { name: 'Draft in hand' });
  await expect(draft.getByText('^2.9.0 → ^3.2.1')).toBeVisible();
  await expect(draft.getByRole('definition').nth(0)).toHaveText('11 → 10');
  await expect(draft.getByRole('definition').nth(1)).toHaveText('73 → 70');
  await expect(draft.getByRole('definition').nth(3)).toHaveText('7');
  await expect(draft.getByText('scree-log 2.4.1', { exact: true })).toBeVisible();
  await expect(row(page, 'scree-log')).toContainText('^3.2.1');
  expect((await workspace.git('rev-parse', 'main')).trim()).toBe(base);

  await draft.getByRole('link', { name: 'Read the diff' }).click();
  await expect(page.getByText('changes 8 files')).toBeVisible();
  await expect(page.getByText('scree-log = "~2.9.1"')).toBeVisible();

  await draft.getByRole('button', { name: 'Post to main…' }).click();
  await page.getByRole('button', { name: 'Post', exact: true }).click();
  await expect(page.getByText('Posted to main')).toBeVisible();
  await expectCommit(workspace, base);

  await page.getByRole('link', { name: /^Alignment/ }).click();
  await expect(page.getByText('10 are out of line.')).toBeVisible();
  await expect(row(page, 'scree-log').locator('.level')).toHaveText('^3.2.1');
  await expect(page.getByText('lockfile consistent')).toBeVisible();

  await page.getByRole('link', { name: /^Journal/ }).click();
  const posted = page.getByRole('row').filter({ hasText: 'Level scree-log at ^3.2.1' });
  await expect(posted).toContainText(
    (await workspace.git('rev-parse', '--short=7', 'main')).trim(),
  );
  await expect(posted).toContainText('11 → 10');
});

test('the whole path, by keyboard alone', async ({ page, workspace }) => {
  const base = (await workspace.git('rev-parse', 'main')).trim();
  await page.goto(`/w/${workspace.slug}/alignment`);
  await expect(row(page, 'scree-log')).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('scree-log');
  await expect(page.locator('tr[data-package]')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('treegrid')).toHaveAttribute('aria-rowcount', '24');

  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'This page, and its keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(row(page, 'serac-queue')).toBeVisible();

  await page.keyboard.press('ArrowDown');
  await expect(row(page, 'scree-log')).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await expect(row(page, 'serac-queue')).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Enter');
  const panel = page.getByRole('group', { name: 'Package panel of scree-log' });
  await expect(panel).toBeFocused();
  await expect(panel.getByRole('radio', { name: '3.2.4' })).toBeChecked();
  // Candidates come one after another, as each is tried.
  await expect(panel.getByRole('radio', { name: '3.2.1' })).toBeVisible();
  await page.keyboard.press('ArrowLeft');
  await expect(panel.getByRole('radio', { name: '3.2.1' })).toBeChecked();
  await page.keyboard.press('Enter');
  const draft = page.getByRole('complementary', { name: 'Draft in hand' });
  await expect(draft.getByText('^2.9.0 → ^3.2.1')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(panel).toHaveCount(0);
  await expect(row(page, 'scree-log')).toBeFocused();

  await press(page, draft.getByRole('button', { name: 'Post to main…' }));
  await press(page, page.getByRole('button', { name: 'Post', exact: true }));
  await expect(page.getByText('Posted to main')).toBeVisible();
  await expectCommit(workspace, base);
});

test('Ctrl+K goes to a package and to a page', async ({ page, workspace }) => {
  await page.goto(`/w/${workspace.slug}/alignment`);
  await expect(row(page, 'scree-log')).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('serac');
  await expect(page.getByRole('option').first()).toContainText('serac-queue');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('group', { name: 'Package panel of serac-queue' })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('journal');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Journal' })).toBeVisible();
  await expect(page.getByText(/^0 posts and 21 commits from outside/)).toBeVisible();
});

test('Ctrl+K goes where it was told to, also when Enter comes before the names do', async ({
  page,
  workspace,
}) => {
  let release = (): void => undefined;
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route(`**/api/workspaces/${workspace.slug}/names`, async (route) => {
    await held;
    await route.continue();
  });
  await page.goto(`/w/${workspace.slug}/shared`);
  await expect(page.getByRole('heading', { name: 'Shared versions', level: 1 })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('glacis-router');
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Go to' });
  await expect(dialog).toBeVisible();
  await expect(dialog).not.toContainText('No package');
  release();
  await expect(page.getByRole('group', { name: 'Package panel of glacis-router' })).toBeFocused();
});

test('an edit can be taken out and put back, and the address reopens the same view', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/alignment?open=pitonhttp&at=5.6.2`);
  const panel = page.getByRole('group', { name: 'Package panel of pitonhttp' });
  await expect(panel.getByRole('heading', { name: 'Level at 5.6.2' })).toBeVisible();
  await panel.getByRole('button', { name: 'Pencil it in' }).click();
  const draft = page.getByRole('complementary', { name: 'Draft in hand' });
  await expect(draft.getByRole('list', { name: 'Edits' }).getByRole('listitem')).toHaveCount(1);
  await expect(draft.getByText('Projects touched')).toBeVisible();
  await expect(draft.getByRole('definition').nth(3)).toHaveText('2');
  await draft.getByRole('button', { name: /^Take out: pitonhttp levelled/ }).click();
  await expect(draft.getByRole('definition').nth(3)).toHaveText('0');
  await draft.getByRole('button', { name: /^Put back: pitonhttp levelled/ }).click();
  await expect(draft.getByRole('definition').nth(3)).toHaveText('2');
  await draft.getByLabel('Name of the draft').fill('newer requests');
  await page.keyboard.press('Enter');

  await expect(page).toHaveURL(/draft=/);
  await page.reload();
  await expect(panel.getByRole('radio', { name: '5.6.2' })).toBeChecked();
  await expect(panel.getByText('In pencil, in the draft in hand.')).toBeVisible();
  await expect(draft.getByLabel('Name of the draft')).toHaveValue('newer requests');
});

test('a draft on a branch that moves is carried over, seen, and posted', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/alignment?open=scree-log`);
  await page.getByRole('button', { name: 'Pencil it in' }).click();
  const draft = page.getByRole('complementary', { name: 'Draft in hand' });
  await expect(draft.getByText('Manifests touched')).toBeVisible();
  await workspace.commit('README.md', (text) => `${text}\nOne more line.\n`, 'Write one more line');
  const moved = (await workspace.git('rev-parse', 'main')).trim();

  await draft.getByRole('button', { name: 'Post to main…' }).click();
  await page.getByRole('button', { name: 'Post', exact: true }).click();
  await expect(page.getByText('The branch moved').first()).toBeVisible();
  await expect(page.getByText(/"Write one more line", gate crew/)).toBeVisible();
  expect((await workspace.git('rev-parse', 'main')).trim()).toBe(moved);

  await page.getByRole('button', { name: 'Not yet' }).click();
  await expect(draft.getByText(/The draft was carried over/)).toBeVisible();
  await draft.getByRole('button', { name: 'I have seen it' }).click();
  await expect(draft.getByText(/The draft was carried over/)).toHaveCount(0);
  await draft.getByRole('button', { name: 'Post to main…' }).click();
  await page.getByRole('button', { name: 'Post', exact: true }).click();
  await expect(page.getByText('Posted to main')).toBeVisible();
  expect((await workspace.git('rev-parse', 'main^')).trim()).toBe(moved);
});

test('a page begins at its top, the way back leads to where one was, and what is opened stays in place', async ({
  page,
}) => {
  const down = () => page.evaluate(() => Math.round(window.scrollY));
  const index = page.getByRole('navigation', { name: 'Contents' });
  await page.goto('/w/brindlepeak/lockfile');
  await expect(page.getByRole('table').getByRole('row').nth(3)).toBeVisible();
  await index.getByRole('link', { name: /^Alignment/ }).click();
  await expect(row(page, 'scree-log')).toBeVisible();
  await page.evaluate(() => window.scrollTo(0, 300));
  await index.getByRole('link', { name: /^Lockfile/ }).click();
  // Its copies are known still, so it is long from the first moment.
  await expect(page).toHaveTitle(/^Lockfile · /);
  await expect(page.getByRole('table').getByRole('row').nth(3)).toBeAttached();
  expect(await down()).toBe(0);
  await page.goBack();
  await expect(row(page, 'scree-log')).toBeAttached();
  await expect.poll(down).toBe(300);

  const name = await page.evaluate(() => {
    const rows = [...document.querySelectorAll<HTMLElement>('tr[data-package]')];
    return rows.find((one) => one.getBoundingClientRect().top > 60)!.dataset['package']!;
  });
  const { y } = (await row(page, name).boundingBox())!;
  await row(page, name).getByText(name, { exact: true }).click();
  await expect(page.getByRole('group', { name: `Package panel of ${name}` })).toBeVisible();
  await expect(page).toHaveURL(/open=/);
  expect((await row(page, name).boundingBox())!.y).toBe(y);
});
