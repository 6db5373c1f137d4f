import { join } from 'node:path';
import type { APIRequestContext, Page } from '@playwright/test';
import { fillRegistries } from './bring-in-steps.js';
import { expect, test } from './workspace-fixture.js';

const FOLDER = join(import.meta.dirname, '../../docs/screenshots');

async function picture(page: Page, name: string): Promise<void> {
  await page.evaluate(() => document.fonts.ready);
  await page.mouse.move(0, 0);
  await page.screenshot({ path: join(FOLDER, `${name}.png`), animations: 'disabled' });
}

/** Machines and build runs at several commits of the demo. */
async function reportMachines(request: APIRequestContext): Promise<void> {
  const answer = await request.get('/api/workspaces/brindlepeak/lock');
  const { commits } = (await answer.json()) as { commits: { sum: string }[] };
  const at = (i: number): string => commits.at(i)!.sum;
  const reports = [
    { kind: 'build', name: 'nightly', branch: 'main', lockSum: at(-1), installedSum: at(-1) },
    { kind: 'build', name: 'release check', branch: 'main', lockSum: at(-1), installedSum: at(-3) },
    { kind: 'machine', name: 'dispatch-desk-2', branch: 'main', lockSum: at(-4) },
    { kind: 'machine', name: 'kiosk-image', branch: 'old-image', lockSum: 'ab'.repeat(32) },
  ];
  for (const data of reports) await request.post('/api/workspaces/brindlepeak/reports', { data });
}

test.use({ contextOptions: { reducedMotion: 'reduce' } });

test('pictures of the main views', async ({ page, request }) => {
  await page.goto('/w/brindlepeak/overview');
  await expect(page.getByText(/shared packages are out of line/)).toBeVisible();
  await expect(page.getByRole('progressbar')).toHaveCount(0, { timeout: 120_000 });
  await picture(page, 'overview');

  await page.goto('/w/brindlepeak/findings?cause=package+tarn-json');
  await expect(page.getByText(/^pass-office asks for tarn-json/)).toBeVisible();
  await picture(page, 'findings');

  await page.goto('/w/brindlepeak/trace?package=tarn-json&through=glacis-state+2.0.2');
  await expect(page.getByRole('heading', { name: 'Why two copies' })).toBeVisible();
  await page.getByText(/^If glacis-state/).click();
  await expect(page.getByText(/^It would take|^Nothing else would leave/)).toBeVisible();
  await picture(page, 'trace');

  await page.goto('/w/brindlepeak/lockfile?q=tarn-json');
  await expect(page.getByText(/commits changed it/)).toBeVisible();
  await page.getByRole('list', { name: 'Copies' }).getByRole('button').first().click();
  await expect(page.getByText(/copies are forced/)).toBeVisible();
  await picture(page, 'lockfile');

  await page.goto('/w/brindlepeak/drift');
  await expect(page.getByText(/differs from the lockfile/)).toBeVisible();
  await expect(page.getByRole('figure')).toContainText(/\d+ copies/, { timeout: 120_000 });
  await expect(page.getByText('weeks worked out', { exact: false })).toBeHidden({
    timeout: 120_000,
  });
  await picture(page, 'drift');

  await page.goto('/w/brindlepeak/merge?from=desk-printer');
  await page.getByRole('button', { name: /take desk-printer/ }).click();
  await expect(page.getByText('The lockfile after it')).toBeVisible();
  await picture(page, 'merge-branches');

  await reportMachines(request);
  await page.goto('/w/brindlepeak/machines');
  await expect(page.getByText('kiosk-image')).toBeVisible();
  await picture(page, 'machines');

  await page.goto('/w/brindlepeak/archives');
  await expect(page.getByText(/are kept\.$/)).toBeVisible({ timeout: 120_000 });
  await picture(page, 'archives');

  await request.post('/api/workspaces/brindlepeak/tokens', {
    data: { name: 'nightly build', scopes: ['report'], lastDay: '2027-02-28' },
  });
  await page.goto('/w/brindlepeak/team');
  await expect(page.getByText('nightly build')).toBeVisible();
  await expect(page.getByRole('button', { name: 'change main' })).toBeVisible();
  await picture(page, 'team');

  await page.goto('/w/brindlepeak/alignment');
  await expect(page.locator('tr[data-package="scree-log"]')).toBeVisible();
  await picture(page, 'alignment');

  await page.goto('/w/brindlepeak/alignment?open=scree-log');
  await expect(page.getByRole('button', { name: 'Pencil it in' })).toBeEnabled();
  await expect(page.getByRole('radio', { name: '2.4.1' })).toBeVisible();
  await picture(page, 'package-panel');

  await page.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(page.getByText('Manifests touched')).toBeVisible();

  await page.getByRole('link', { name: 'Read the diff' }).click();
  await expect(page.getByText('ledger.shared.toml').first()).toBeVisible();
  await picture(page, 'draft-diff');

  await page.getByRole('button', { name: 'Post to main…' }).click();
  await page.getByRole('button', { name: 'Post', exact: true }).click();
  await page.getByRole('link', { name: 'See the journal' }).click();
  await page.getByRole('button', { name: /^Level scree-log/ }).click();
  await expect(page.getByText('On top of')).toBeVisible();
  await expect(page.getByText(/written otherwise/)).toBeVisible();
  await picture(page, 'journal');

  await page.goto('/w/brindlepeak/upgrades?open=moraine');
  await expect(page.getByText('left out, with its reason').first()).toBeVisible();
  await expect(page.getByText('is being tried')).toHaveCount(0);
  await page.getByRole('checkbox', { name: 'Take arete-validate' }).click();
  await page.getByRole('checkbox', { name: 'Take firnstore' }).click();
  await expect(page.getByRole('region', { name: 'Chosen' })).toContainText('copies move');
  await picture(page, 'upgrades');

  await page.goto('/w/brindlepeak/registry?q=a&package=dogwatch-cron');
  for (const project of ['season-kiosk', 'season-web', 'slope-board'])
    await page.getByLabel(project).check();
  await expect(page.getByText('It would bring', { exact: true })).toBeVisible();
  await picture(page, 'registry');

  await page.goto('/w/brindlepeak/diff');
  await page.getByRole('button', { name: 'Begin another draft' }).click();
  await expect(page.getByText('No edits yet.')).toBeVisible();
  await page.getByRole('link', { name: /^Shared/ }).click();
  await expect(page.getByText('lapsed 139 days ago')).toBeVisible();
  await picture(page, 'shared');

  await page.goto('/w/wendholm/bring-in');
  await expect(page.getByText(/9 projects/)).toBeVisible();
  await page.getByRole('button', { name: 'Put away' }).click();
  await picture(page, 'bring-in');
  await fillRegistries(page);
  await page.getByRole('button', { name: 'Proof and draft' }).click();
  await page.getByRole('button', { name: 'Read, resolve and make a draft' }).click();
  await expect(page.getByText('Read and resolved')).toBeVisible();
  await page.evaluate(() => scrollTo(0, 0));
  await picture(page, 'bring-in-proof');
});
