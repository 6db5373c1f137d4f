import { expect, test } from './workspace-fixture.js';
import { changedLines, draftOf, postDraft } from './workspace-steps.js';

test('everything is cleared, posted, and clearing again finds nothing', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/findings`);
  await page.getByRole('button', { name: 'Clear everything' }).click();
  const clearing = page.getByRole('region', { name: 'Clear everything' });
  await expect(clearing.getByRole('heading')).toHaveText(/^\d+ edits clear \d+ findings$/, {
    timeout: 120_000,
  });
  await clearing.getByText('What is left, and why').click();
  await expect(clearing.getByText(/^a major step of/).first()).toBeVisible();
  await clearing.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(draftOf(page).getByText(/^\d+ findings cleared$/)).toBeVisible();
  await postDraft(page);
  await expect(clearing.getByRole('heading')).toHaveText('Nothing more can be cleared', {
    timeout: 120_000,
  });
  expect(await workspace.git('show', '--name-only', '--format=', 'main')).toContain('ledger.lock');
});

test('a finding leads to its evidence and its remedy, and says since when it is there', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/findings?kind=undeclared`);
  const cause = page.getByRole('button', { name: /pass-office uses snowline-units/ });
  await cause.click();
  await page.getByRole('link', { name: 'apps/pass-office/src/index.ts:13' }).click();
  await expect(page.getByRole('heading', { name: 'index.ts' })).toBeVisible();
  await expect(page.locator('[aria-current="location"]')).toContainText('snowline-units');
  await page.goBack();
  await page.getByRole('link', { name: /^chain from/ }).click();
  await expect(page.getByRole('heading', { name: /^Trace snowline-units/ })).toBeVisible();
  await page.goBack();
  await page.getByRole('button', { name: 'Declare snowline-units ^1.0.0 in pass-office' }).click();
  await expect(draftOf(page).getByText(/finding cleared/)).toBeVisible();
});

test('a finding is muted with reason, owner and last day, in the repository', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/findings?kind=licence&cause=package+whiteout-mask`);
  await page.getByRole('button', { name: 'Mute' }).first().click();
  await page.getByLabel('Reason').fill('the contract runs out in spring');
  await page.getByLabel('Owner').fill('web crew');
  await page.getByLabel('Last day').fill('2027-03-31');
  await page.getByRole('dialog').getByRole('button', { name: 'Pencil it in' }).click();
  await postDraft(page);
  await page.goto(`/w/${workspace.slug}/findings?show=muted`);
  await expect(page.getByText(/1 muted/)).toBeVisible();
  await expect(page.getByText(/whiteout-mask 1\.0\.0 is under/).first()).toBeVisible();
  expect(await changedLines(workspace.git, 'ledger.shared.toml')).toEqual(
    expect.arrayContaining([
      '+[[muted]]',
      '+finding = "licence whiteout-mask 1.0.0"',
      '+until = 2027-03-31',
    ]),
  );
});

test('the overview has the history, computed from the real commits, and what to do first', async ({
  page,
  workspace,
}) => {
  const commits = (await workspace.git('rev-list', '--count', 'main')).trim();
  expect(Number(commits)).toBeGreaterThan(20);
  await page.goto(`/w/${workspace.slug}/overview`);
  await expect(page.getByText(/^\d+ of \d+ shared packages are out of line/)).toBeVisible();
  await expect(page.getByRole('progressbar')).toHaveCount(0);
  const figure = page.getByRole('figure', { name: /Shared packages out of line/ });
  await expect(figure).toContainText(/7 packages on 25 Nov 2024/);
  await page.getByRole('button', { name: /^Pencil in: re-resolve \d+ packages/ }).click();
  await expect(draftOf(page).getByText(/findings cleared/)).toBeVisible();
});

test('error findings of a branch where somebody put things right by hand', async ({
  page,
  workspace,
  request,
}) => {
  const opened = await request.post('/api/workspaces', {
    data: {
      address: workspace.repository,
      branch: 'old-image',
      registry: process.env['DEEP_LEDGER_REGISTRY'],
    },
  });
  const { slug } = (await opened.json()) as { slug: string };
  await page.goto(`/w/${slug}/findings?severity=error`);
  for (const kind of ['tampered', 'withdrawn', 'platform'])
    await expect(page.getByRole('main')).toContainText(kind);
  const sarif = await request.get(`/api/workspaces/${slug}/findings/sarif`);
  expect(((await sarif.json()) as { version: string }).version).toBe('2.1.0');
  await request.delete(`/api/workspaces/${slug}`);
});
