import { expect, test } from './workspace-fixture.js';
import {
  changedLines,
  draftOf,
  postDraft,
  postDraftByKeys,
  press,
  row,
} from './workspace-steps.js';

const STEP = [
  '-moraine-grid = "4.0.2"',
  '+moraine-grid = "shared"',
  '-moraine-core = "4.0.2"',
  '+moraine-core = "shared"',
  '-moraine-core = "4.1.0"',
  '+moraine-core = "shared"',
];

test.describe('a lockstep set that is out of step is levelled at once', () => {
  test('by pointer', async ({ page, workspace }) => {
    await page.goto(`/w/${workspace.slug}/alignment?set=moraine`);
    await expect(page.locator('tr[data-package]')).toHaveCount(4);
    await page.getByLabel('Select all that are shown').check();
    const selection = page.getByRole('region', { name: 'Selected packages' });
    await expect(selection).toContainText('4 packages selected, 2 out of line');
    await selection.getByRole('button', { name: 'Level them' }).click();
    await expect(draftOf(page).getByText('Level again: moraine-core, moraine-grid')).toBeVisible();
    await expect(row(page, 'moraine-grid').locator('.pencilled').first()).toHaveText('–');
    await postDraft(page);
    expect([...(await changedLines(workspace.git, 'apps/*/ledger.project.toml'))].sort()).toEqual(
      [...STEP].sort(),
    );
  });

  test('by keyboard alone', async ({ page, workspace }) => {
    await page.goto(`/w/${workspace.slug}/alignment`);
    await row(page, 'moraine-core').focus();
    await page.keyboard.press('Space');
    await page.keyboard.press('ArrowDown');
    await expect(row(page, 'moraine-grid')).toBeFocused();
    await page.keyboard.press('Space');
    await expect(page).toHaveURL(/sel=moraine-core%2Cmoraine-grid/);
    await press(page, page.getByRole('button', { name: 'Level them' }));
    await expect(draftOf(page).getByText('Level again: moraine-core, moraine-grid')).toBeVisible();
    await postDraftByKeys(page);
    expect([...(await changedLines(workspace.git, 'apps/*/ledger.project.toml'))].sort()).toEqual(
      [...STEP].sort(),
    );
  });
});

test.describe('an exception that has lapsed', () => {
  test('is extended by pointer, with its reason', async ({ page, workspace }) => {
    await page.goto(`/w/${workspace.slug}/shared`);
    await expect(page.getByText('1 exception lapsed.')).toBeVisible();
    await expect(page.getByText('lapsed 139 days ago')).toBeVisible();
    await page
      .getByRole('button', { name: 'Extend the exception of radio-bridge for cairn-dates' })
      .click();
    await expect(page.getByLabel('Reason')).toHaveValue(/old day format/);
    await page.getByLabel('Last day').fill('2027-06-30');
    await page.getByRole('button', { name: 'Pencil it in' }).click();
    await expect(draftOf(page).getByText('~2.2.0 †')).toBeVisible();
    await postDraft(page);
    await page.goto(`/w/${workspace.slug}/shared`);
    await expect(page.getByText('226 days left')).toBeVisible();
    await expect(page.getByText('1 exception lapsed.')).toHaveCount(0);
    const lines = await changedLines(workspace.git, 'ledger.shared.toml');
    expect(lines).toContain('+until = 2027-06-30');
  });

  test('is ended by keyboard alone, and the project takes the shared version', async ({
    page,
    workspace,
  }) => {
    await page.goto(`/w/${workspace.slug}/shared`);
    await press(
      page,
      page.getByRole('button', {
        name: 'End the exception of radio-bridge for cairn-dates',
        exact: true,
      }),
    );
    await expect(draftOf(page).getByText('exception for cairn-dates ends')).toBeVisible();
    await page.keyboard.press('Control+k');
    await page.keyboard.type('radio-bridge');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: 'radio-bridge' })).toBeVisible();
    await press(page, page.getByRole('button', { name: 'Take the shared version of cairn-dates' }));
    await expect(draftOf(page).getByText('taken by 1 project')).toBeVisible();
    await postDraftByKeys(page);
    expect(await workspace.git('show', 'main:ledger.shared.toml')).not.toContain('radio-bridge');
    expect(await workspace.git('show', 'main:services/radio-bridge/ledger.project.toml')).toMatch(
      /cairn-dates = "shared"/,
    );
  });
});

test('a project that cannot follow is excepted, the others are levelled', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/alignment?open=scree-log&at=3.2.4`);
  const panel = page.getByRole('group', { name: 'Package panel of scree-log' });
  await expect(panel.getByText('7 files change.')).toBeVisible();
  await panel.getByRole('button', { name: 'Except a project…' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Project').selectOption('season-kiosk');
  await dialog.getByLabel('Range').fill('2.4.1');
  await dialog.getByLabel('Reason').fill('the kiosk image still runs platform 18');
  await dialog.getByLabel('Who answers for it').fill('kiosk crew');
  await dialog.getByLabel('Last day').fill('2027-03-31');
  await dialog.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(draftOf(page).getByText('keeps scree-log')).toBeVisible();
  await expect(panel.getByText('6 files change.')).toBeVisible();
  await panel.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(draftOf(page).getByText('^2.9.0 → ^3.2.4')).toBeVisible();
  await postDraft(page);
  expect(await workspace.git('show', 'main:apps/season-kiosk/ledger.project.toml')).toMatch(
    /scree-log = "2\.4\.1" /,
  );
  await page.goto(`/w/${workspace.slug}/alignment?view=grid&q=scree-log`);
  const cell = page.getByRole('gridcell').filter({ hasText: '†' });
  await expect(cell).toHaveText('2.4.1†');
  await cell.click();
  await expect(page.getByRole('dialog')).toContainText(
    'the kiosk image still runs platform 18 (kiosk crew), until 31 Mar 2027',
  );
});

test('the mark can be dragged along the rail, and tells what would happen where it stands', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/alignment?open=scree-log`);
  const panel = page.getByRole('group', { name: 'Package panel of scree-log' });
  await expect(panel.getByRole('heading', { name: 'Level at 3.2.4' })).toBeVisible();
  await expect(panel.getByRole('status')).toHaveText('');
  const slider = panel.getByRole('slider');
  await expect(slider).toHaveAttribute('aria-valuetext', '3.2.4');
  // Letters that come later would move the chart.
  await page.evaluate(() => document.fonts.ready);
  const mark = (await panel.locator('path[data-mark]').boundingBox())!;
  await page.mouse.move(mark.x + mark.width / 2, mark.y + mark.height / 2);
  await page.mouse.down();
  await page.mouse.move(mark.x - 60, mark.y + 5, { steps: 6 });
  await expect(slider).not.toHaveAttribute('aria-valuetext', '3.2.4');
  // The mark may be on its way still when it is asked where it is.
  await expect(async () => {
    const dragged = (await slider.getAttribute('aria-valuetext'))!;
    const heading = panel.getByRole('heading', { name: `Level at ${dragged}` });
    await expect(heading).toBeVisible({ timeout: 2_000 });
  }).toPass();
  await expect(panel.getByText(/of 13 already allow it/)).toBeVisible();
  await page.mouse.move(mark.x + 60, mark.y + 5, { steps: 6 });
  await expect(slider).toHaveAttribute('aria-valuetext', '3.3.0');
  await expect(panel.getByText('The workspace has no answer then.')).toBeVisible();
  await page.mouse.up();
  await expect(page).toHaveURL(/at=3\.3\.0/);
  await panel.focus();
  await page.keyboard.press('Shift+ArrowLeft');
  await expect(slider).toHaveAttribute('aria-valuetext', '3.2.4');
});

test.describe('a platform that is too old', () => {
  test('leaves a draft without an answer, with suggested fixes that can be taken', async ({
    page,
    workspace,
  }) => {
    await page.goto(`/w/${workspace.slug}/shared`);
    await page.getByRole('button', { name: 'Change the shared version of scree-log' }).click();
    await page.getByRole('textbox', { name: 'Range' }).fill('^3.3.0');
    await page.getByRole('button', { name: 'Pencil it in' }).click();
    const draft = draftOf(page);
    await expect(draft.getByText('The draft stays, but it cannot be posted.')).toBeVisible();
    await expect(draft.getByText('From here on there is no answer.')).toBeVisible();
    await expect(draft.getByRole('button', { name: 'Post to main…' })).toBeDisabled();
    const way = draft
      .getByRole('region', { name: 'Suggested fixes' })
      .getByRole('listitem')
      .filter({ hasText: 'runtime' });
    await way.getByRole('button', { name: 'Take this way' }).click();
    await expect(draft.getByText('runtime offered')).toBeVisible();
    await expect(draft.getByRole('button', { name: 'Post to main…' })).toBeEnabled();
  });

  test('by keyboard: undone, done again, the other way taken', async ({ page, workspace }) => {
    await page.goto(`/w/${workspace.slug}/shared`);
    await press(page, page.getByRole('button', { name: 'Change the shared version of scree-log' }));
    await page.getByRole('textbox', { name: 'Range' }).focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.type('^3.3.0');
    await page.keyboard.press('Enter');
    const draft = draftOf(page);
    await expect(draft.getByText('No answer', { exact: true })).toBeVisible();
    await page.locator('h1').focus();
    await page.keyboard.press('Control+z');
    await expect(draft.getByText('No edits yet.')).toBeVisible();
    await page.keyboard.press('Control+Shift+z');
    await expect(draft.getByText('No answer', { exact: true })).toBeVisible();
    const ways = draft.getByRole('region', { name: 'Suggested fixes' });
    await press(page, ways.getByRole('button', { name: 'Take this way' }).first());
    await expect(draft.getByRole('button', { name: 'Post to main…' })).toBeEnabled();
  });
});

test.describe('a major release of yesterday', () => {
  test('is not what a package panel begins with; by pointer a rule on age keeps it away', async ({
    page,
    workspace,
  }) => {
    await page.goto(`/w/${workspace.slug}/shared`);
    await page.getByLabel('Days that a release must be old').fill('14');
    await page.getByRole('button', { name: 'Pencil it in' }).click();
    await expect(draftOf(page).getByText('minimum-age-days set')).toBeVisible();
    await page.getByRole('link', { name: 'glacis-router' }).click();
    const panel = page.getByRole('group', { name: 'Package panel of glacis-router' });
    await expect(panel.getByRole('heading', { name: 'Level at 6.4.2' })).toBeVisible();
    await panel.getByRole('radio', { name: '7.0.0' }).click();
    await expect(panel.getByText('The workspace has no answer then.')).toBeVisible();
    await expect(
      panel.getByText(/glacis-router 7\.0\.0 is younger than the 14 days/),
    ).toBeVisible();
    await panel.getByRole('radio', { name: '6.4.2' }).click();
    await panel.getByRole('button', { name: 'Pencil it in' }).click();
    await postDraft(page);
    expect(await workspace.git('show', 'main:ledger.toml')).toContain('minimum-age-days = 14');
  });

  test('by keyboard alone: seen for what it is, and left for the newest of the same major', async ({
    page,
    workspace,
  }) => {
    await page.goto(`/w/${workspace.slug}/alignment`);
    await expect(row(page, 'scree-log')).toBeVisible();
    await page.keyboard.press('Control+k');
    await page.keyboard.type('glacis-router');
    await page.keyboard.press('Enter');
    const panel = page.getByRole('group', { name: 'Package panel of glacis-router' });
    await expect(panel).toBeFocused();
    await expect(panel.getByRole('status')).toHaveText('');
    await page.keyboard.press('ArrowRight');
    await expect(panel.getByText('2 projects get another major version.')).toBeVisible();
    await page.keyboard.press('ArrowLeft');
    await expect(panel.getByRole('heading', { name: 'Level at 6.4.2' })).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(draftOf(page).getByText('^6.2.0 → ^6.4.2')).toBeVisible();
    await postDraftByKeys(page);
    expect(await changedLines(workspace.git, 'ledger.shared.toml')).toHaveLength(2);
  });
});

test.describe('moving versions in', () => {
  /** Every line that the commit touched is a version, or a line of the shared file. */
  async function expectOnlyVersions(git: (...args: string[]) => Promise<string>): Promise<void> {
    const lines = await changedLines(git, 'apps', 'services', 'libs');
    expect(lines.length).toBeGreaterThan(10);
    const bare = (line: string): string => line.slice(1).replace(/"[^"]*"/, '""');
    const [left, come] = ['-', '+'].map((mark) =>
      lines.filter((line) => line.startsWith(mark)).map(bare),
    );
    expect(come).toEqual(left);
    for (const line of lines.filter((one) => one.startsWith('+')))
      expect(line).toMatch(/^\+[a-z-]+ = "shared"/);
    const comments = async (commit: string): Promise<string> =>
      git(
        'grep',
        '-h',
        '-o',
        '#.*',
        commit,
        '--',
        'apps',
        'services',
        'libs',
        'ledger.shared.toml',
      );
    expect(await comments('main')).toBe(await comments('main^'));
  }

  test('by pointer: all that moves nothing, with the proof', async ({ page, workspace }) => {
    await page.goto(`/w/${workspace.slug}/centralise`);
    await expect(page.getByText(/^17 packages could move into ledger\.shared\.toml/)).toBeVisible();
    await page.getByRole('button', { name: /^Pencil 6 lines in/ }).click();
    await expect(
      page.getByText('Proven: the lockfile keeps every copy and every answer'),
    ).toBeVisible();
    await postDraft(page);
    await expectOnlyVersions(workspace.git);
    const lock = await workspace.git('diff', 'main^', 'main', '--', 'ledger.lock');
    expect(lock).not.toMatch(/^[+-](copy|archive|integrity)/m);
    await page.goto(`/w/${workspace.slug}/centralise`);
    await expect(page.getByText(/^11 packages could move/)).toBeVisible();
  });

  test('by keyboard alone: everything, with what it would change', async ({ page, workspace }) => {
    await page.goto(`/w/${workspace.slug}/centralise`);
    await press(page, page.getByRole('button', { name: 'Choose all', exact: true }));
    await press(page, page.getByRole('button', { name: /^Pencil 17 lines in/ }));
    await expect(page.getByText('The lockfile would change')).toBeVisible();
    await expect(draftOf(page).getByText('11 → 0')).toBeVisible();
    await postDraftByKeys(page);
    await expectOnlyVersions(workspace.git);
    await page.goto(`/w/${workspace.slug}/alignment`);
    await expect(page.getByText('All are level.')).toBeVisible();
  });
});

test('sets, pins, everywhere and policy are set from the page of shared versions', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/shared`);
  const draft = draftOf(page);
  const dialog = page.getByRole('dialog');
  const pencil = dialog.getByRole('button', { name: 'Pencil it in' });
  await page.getByRole('button', { name: 'Pin a package…' }).click();
  await dialog.getByLabel('Package', { exact: true }).fill('yodelmark-text');
  await dialog.getByLabel('Version').fill('3.2.0');
  await pencil.click();
  await expect(draft.getByText('pinned')).toBeVisible();
  await page.getByRole('button', { name: 'Require a package everywhere…' }).click();
  await dialog.getByLabel('Package', { exact: true }).fill('nunatak-ids');
  await dialog.getByLabel('Range').fill('^1.0.0');
  await dialog.getByLabel('fare-rules').check();
  await pencil.click();
  await expect(draft.getByText('required everywhere')).toBeVisible();
  await page.getByRole('button', { name: 'Make a set…' }).click();
  await dialog.getByLabel('Name', { exact: true }).fill('glacis');
  await dialog.getByLabel('Range').fill('^2.0.0');
  await dialog.getByLabel('glacis-state').check();
  await pencil.click();
  await expect(draft.getByText('new lockstep set')).toBeVisible();
  await page.getByLabel('Days that a release must be old').fill('14');
  await page.getByRole('button', { name: 'Pencil it in' }).last().click();
  await expect(draft.getByText('minimum-age-days set')).toBeVisible();
  await page.getByLabel('Licences that are allowed').fill('Apache-2.0');
  await page.getByRole('button', { name: 'Pencil it in' }).last().click();
  await expect(
    draft.getByText(/^Copies under a licence that is not allowed: 1 → \d+/),
  ).toBeVisible();
  await draft.getByRole('link', { name: 'Read the diff' }).click();
  await expect(page.getByText('[lockstep.glacis]')).toBeVisible();
  await expect(page.getByText('minimum-age-days = 14')).toBeVisible();
  await expect(page.getByText('nunatak-ids = { range = "^1.0.0"')).toBeVisible();
});
