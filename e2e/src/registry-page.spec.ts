import type { Page } from '@playwright/test';
import { expect, test } from './workspace-fixture.js';
import { draftOf, postDraft, postDraftByKeys, press } from './workspace-steps.js';

const field = (page: Page) =>
  page.getByRole('searchbox', { name: 'Find a package in the registries' });

test('by pointer: a package is found, seen for what it brings, and added to three projects as a shared version', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/registry`);
  const news = page.getByRole('region', { name: 'News of what is in use' });
  await expect(news).toContainText('deprecated: tries for ever on a closed line; use 2.x');
  await expect(news).toContainText(/used by \S+/);
  await field(page).fill('short watch');
  await page.getByRole('button', { name: /^dogwatch-cron/ }).click();
  const shown = page.getByRole('region', { name: 'Package dogwatch-cron' });
  await expect(shown).toContainText('no project requires it.');
  await expect(shown.getByRole('img', { name: /releases from .*in use: none/ })).toBeVisible();
  await expect(shown).toContainText('Choose projects to see what it would bring.');
  for (const project of ['season-kiosk', 'season-web', 'slope-board'])
    await shown.getByLabel(project).check();
  await expect(shown).toContainText(/It would bring\d+ cop/);
  await expect(shown.getByLabel('Range')).toHaveValue('shared');
  await shown.getByRole('button', { name: 'Pencil in for 3 projects' }).click();
  await expect(draftOf(page).getByText('added to 3 projects')).toBeVisible();
  await postDraft(page);
  const shared = await workspace.git('show', 'main:ledger.shared.toml');
  expect(shared).toMatch(/dogwatch-cron = "\^1\.0\.3"/);
  for (const folder of ['season-kiosk', 'season-web', 'slope-board'])
    expect(await workspace.git('show', `main:apps/${folder}/ledger.project.toml`)).toContain(
      'dogwatch-cron = "shared"',
    );
  await expect(shown).toContainText('3 projects require it.');
});

test('a package under terms is added to three projects and posted once its terms are accepted in the draft', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/registry`);
  await field(page).fill('maps of valleys');
  await page.getByRole('button', { name: /^dale-maps/ }).click();
  const shown = page.getByRole('region', { name: 'Package dale-maps' });
  await expect(shown).toContainText(
    'Terms of the Dale Survey for its maps: nobody has accepted them',
  );
  for (const project of ['season-kiosk', 'season-web', 'slope-board'])
    await shown.getByLabel(project).check();
  await expect(shown).toContainText('which nobody has accepted; the draft asks for that');
  await shown.getByRole('button', { name: 'Pencil in for 3 projects' }).click();
  const draft = draftOf(page);
  await expect(draft).toContainText('Terms to accept before it is posted');
  const post = draft.getByRole('button', { name: /^Post to / });
  await expect(post).toBeDisabled();
  await press(page, draft.getByRole('button', { name: 'Accept for the team' }));
  await expect(draft).toContainText('terms accepted');
  await expect(draft).not.toContainText('Terms to accept before it is posted');
  await postDraft(page);
  expect(await workspace.git('show', 'main:ledger.shared.toml')).toMatch(
    /dale-maps = "shared"|dale-maps = "\^[\s\S]*\[\[accepted\]\]\nid = "dale-survey-1"/,
  );
  await expect(shown).toContainText('platform crew accepted them on');
});

test('by keys: words, down into what was found, and a range of one’s own for one project', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/registry`);
  await expect(page.getByRole('list', { name: 'Found packages' })).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('cron');
  await expect(page.getByRole('button', { name: /^dogwatch-cron/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^anemone/ })).toHaveCount(0);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  const shown = page.getByRole('region', { name: /^Package / });
  await expect(shown).toBeVisible();
  await expect(page).toHaveURL(/package=/);
  await shown.getByLabel('roster', { exact: true }).focus();
  await page.keyboard.press('Space');
  await expect(shown).toContainText('It would bring');
  await press(page, shown.getByRole('button', { name: 'Pencil in for 1 project' }));
  await expect(draftOf(page).getByText('added to 1 project')).toBeVisible();
  await postDraftByKeys(page);
  expect(await workspace.git('show', 'main:services/roster/ledger.project.toml')).toMatch(
    /cron = "\^/,
  );
});

test('what is not there is said, with the nearest name', async ({ page, workspace }) => {
  await page.goto(`/w/${workspace.slug}/registry`);
  await field(page).fill('scree-lag');
  await expect(page.getByText('No registry has a package with these words.')).toBeVisible();
  await page.getByRole('button', { name: 'open scree-lag' }).click();
  await expect(page.getByRole('alert')).toContainText(
    'main has no package scree-lag. Did you mean scree-log?',
  );
});
