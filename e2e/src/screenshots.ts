import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { expect, test } from './workspace-fixture.js';

const FOLDER = join(import.meta.dirname, '../../docs/screenshots');

async function picture(page: Page, name: string): Promise<void> {
  await page.evaluate(() => document.fonts.ready);
  await page.mouse.move(0, 0);
  await page.screenshot({ path: join(FOLDER, `${name}.png`), animations: 'disabled' });
}

test.use({ contextOptions: { reducedMotion: 'reduce' } });

test('pictures of the main views', async ({ page }) => {
  // The picture is the same wherever the checkout lies.
  await page.route('**/api/workspaces', async (route) => {
    const response = await route.fetch();
    const list = (await response.json()) as object[];
    await route.fulfill({
      response,
      json: list.map((one) => ({ ...one, address: '/srv/git/brindlepeak.git' })),
    });
  });
  await page.goto('/');
  await expect(page.getByRole('link', { name: 'brindlepeak' })).toBeVisible();
  await picture(page, 'front-page');

  await page.goto('/w/brindlepeak/overview');
  await expect(page.getByText(/shared packages are out of line/)).toBeVisible();
  await expect(page.getByRole('progressbar')).toBeHidden({ timeout: 60_000 });
  await picture(page, 'overview');

  await page.goto('/w/brindlepeak/findings?cause=package+tarn-json');
  await expect(page.getByText(/^pass-office asks for tarn-json/)).toBeVisible();
  await picture(page, 'findings');

  await page.goto('/w/brindlepeak/trace?package=tarn-json&through=glacis-state+2.0.2');
  await expect(page.getByRole('heading', { name: 'Why two copies' })).toBeVisible();
  await expect(page.getByRole('heading', { name: /^If glacis-state/ })).toBeVisible();
  await picture(page, 'trace');

  await page.goto('/w/brindlepeak/trace?project=services/radio-bridge');
  await expect(page.getByRole('button', { name: /^radio-bridge,/ })).toBeVisible();
  await expect(page.getByRole('list', { name: 'Chains' })).toBeVisible();
  await picture(page, 'trace-what-it-brings');

  await page.goto('/w/brindlepeak/trace?package=hoarfrost-hash');
  await page.getByRole('button', { name: 'Try it' }).click();
  await expect(page.getByText('1 leave the lockfile')).toBeVisible();
  await picture(page, 'trace-what-if');

  await page.goto('/w/brindlepeak/sheet');
  await expect(page.locator('tr[data-package="scree-log"]')).toBeVisible();
  await picture(page, 'sheet');

  await page.goto('/w/brindlepeak/sheet?open=scree-log');
  await expect(page.getByRole('button', { name: 'Pencil it in' })).toBeEnabled();
  await expect(page.getByRole('radio', { name: '2.4.1' })).toBeVisible();
  await picture(page, 'sheet-bench');

  await page.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(page.getByText('Manifests touched')).toBeVisible();
  await picture(page, 'sheet-pencilled');

  await page.goto('/w/brindlepeak/sheet?view=grid');
  await expect(page.getByRole('gridcell').first()).toBeVisible();
  await expect(page.getByText('Manifests touched')).toBeVisible();
  await picture(page, 'sheet-grid');

  await page.getByRole('link', { name: 'Read the diff' }).click();
  await expect(page.getByText('ledger.shared.toml').first()).toBeVisible();
  await picture(page, 'draft-diff');

  await page.getByRole('button', { name: 'Post to main…' }).click();
  await picture(page, 'post');
  await page.getByRole('button', { name: 'Post', exact: true }).click();
  await page.getByRole('link', { name: 'See the journal' }).click();
  await page.getByRole('button', { name: /^Agree on scree-log/ }).click();
  await expect(page.getByText('On top of')).toBeVisible();
  await expect(page.getByText(/written otherwise/)).toBeVisible();
  await picture(page, 'journal');

  await page.goto('/w/brindlepeak/projects/apps/season-kiosk');
  await expect(page.getByText('runtime: at run time')).toBeVisible();
  await picture(page, 'project');

  await page.goto('/w/brindlepeak/move-in');
  await page.getByRole('button', { name: /^Pencil \d+ lines in/ }).click();
  await expect(page.getByText(/^Proven/)).toBeVisible();
  await picture(page, 'move-in');

  await page.goto('/w/brindlepeak/diff');
  await page.getByRole('button', { name: 'Begin another draft' }).click();
  await expect(page.getByText('No edits yet.')).toBeVisible();
  await page.getByRole('link', { name: /^Shared/ }).click();
  await expect(page.getByText('lapsed 139 days ago')).toBeVisible();
  await picture(page, 'shared');
  await page.getByRole('button', { name: 'Change the shared version of scree-log' }).click();
  await page.getByLabel('Range').fill('^3.3.0');
  await page.getByRole('dialog').getByRole('button', { name: 'Pencil it in' }).click();
  await expect(page.getByRole('button', { name: 'Take this way' }).first()).toBeVisible();
  await picture(page, 'draft-no-answer');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('No edits yet.')).toBeVisible();

  await page.evaluate(() => localStorage.setItem('theme', 'night'));
  await page.goto('/w/brindlepeak/sheet?open=serac-queue');
  await expect(page.getByRole('button', { name: 'Pencil it in' })).toBeEnabled();
  await expect(page.getByRole('radio', { name: '1.3.0' })).toBeVisible();
  await picture(page, 'sheet-night');
});
