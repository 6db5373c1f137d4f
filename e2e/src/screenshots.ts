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

  await page.goto('/w/brindlepeak/sheet');
  await expect(page.getByRole('row', { name: /^scree-log/ })).toBeVisible();
  await picture(page, 'sheet');

  await page.goto('/w/brindlepeak/sheet?open=scree-log');
  await expect(page.getByRole('button', { name: 'Pencil it in' })).toBeVisible();
  await picture(page, 'sheet-bench');

  await page.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(page.getByText('Manifests touched')).toBeVisible();
  await picture(page, 'sheet-pencilled');

  await page.getByRole('link', { name: 'Read the diff' }).click();
  await expect(page.getByText('ledger.shared.toml')).toBeVisible();
  await picture(page, 'draft-diff');

  await page.getByRole('button', { name: 'Post to main…' }).click();
  await page.getByLabel('Author').fill('platform crew');
  await page.getByLabel('E-mail').fill('platform.crew@brindlepeak.example');
  await picture(page, 'post');
  await page.getByRole('button', { name: 'Post', exact: true }).click();
  await page.getByRole('link', { name: 'See the journal' }).click();
  await page.getByRole('button', { name: /^Agree on scree-log/ }).click();
  await expect(page.getByText('On top of')).toBeVisible();
  await picture(page, 'journal');

  await page.evaluate(() => localStorage.setItem('theme', 'night'));
  await page.goto('/w/brindlepeak/sheet?open=serac-queue');
  await expect(page.getByRole('button', { name: 'Pencil it in' })).toBeVisible();
  await picture(page, 'sheet-night');
});
