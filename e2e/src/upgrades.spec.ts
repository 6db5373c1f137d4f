import type { Locator, Page } from '@playwright/test';
import { expect, test } from './workspace-fixture.js';
import { draftOf, postDraft, postDraftByKeys, press } from './workspace-steps.js';

function batch(page: Page, title: string): Locator {
  return page.getByRole('row').filter({ has: page.getByRole('rowheader', { name: title }) });
}

function line(page: Page, name: string): Locator {
  return page.locator(`tr[data-row="${name}"]`);
}

test.describe('upgrades', () => {
  test('all patches go in one post, and then nothing newer is left within a patch but what has its reason', async ({
    page,
    workspace,
  }) => {
    await page.goto(`/w/${workspace.slug}/upgrades`);
    const patches = batch(page, 'All patches');
    await expect(patches).toContainText('26 of 27');
    await patches.getByText('1 left out, with its reason').click();
    await expect(patches).toContainText(
      'moraine-grid 4.1.3 asks for glacis-state ^2.1.0 beside it',
    );
    await patches.getByRole('button', { name: 'Pencil in: All patches' }).click();
    await expect(line(page, 'arete-validate').locator('.pencilled')).toHaveText('3.0.4');
    await postDraft(page);
    await expect(patches).toContainText('0 of 1');
    expect(await workspace.git('diff', '--name-only', 'main~1', 'main')).toBe('ledger.lock\n');
    expect(await workspace.git('show', 'main:ledger.lock')).toContain(
      'copy arete-validate 3.0.4\n',
    );
    // With minors it can go up as well: what it asks for goes along.
    const minors = batch(page, 'Patches and minors');
    await minors.getByText('1 left out, with its reason').click();
    await expect(minors).toContainText(
      'kames-metrics 1.2.1 asks for ogive-trace ^0.10.0 beside it',
    );
    await minors.getByRole('button', { name: 'Pencil in: Patches and minors' }).click();
    await postDraft(page);
    const lock = await workspace.git('show', 'main:ledger.lock');
    expect(lock).toContain('copy glacis-router 6.4.2\n');
    expect(lock).not.toContain('copy kames-metrics 1.2.1\n');
  });

  test('what the projects of one owner require is looked at by itself', async ({
    page,
    workspace,
  }) => {
    await page.goto(`/w/${workspace.slug}/upgrades`);
    await expect(batch(page, 'All patches')).toContainText('of 27');
    await page.getByLabel('of', { exact: true }).selectOption('kiosk crew');
    await expect(page).toHaveURL(/owner=kiosk\+crew/);
    await expect(page.getByText(/of the \d+ shown here, \d+ goe?s? up/)).toBeVisible();
    await expect(batch(page, 'All patches')).toContainText(/\d of \d/);
    await expect(batch(page, 'All patches')).not.toContainText('of 27');
    // season-kiosk requires it; what only the safety crew requires is not there.
    await expect(line(page, 'whiteout-mask')).toBeVisible();
    await expect(line(page, 'firnstore')).toHaveCount(0);
  });

  test('by keys: rows are walked and chosen, their sum is tried, and P makes the draft', async ({
    page,
    workspace,
  }) => {
    await page.goto(`/w/${workspace.slug}/upgrades`);
    await expect(line(page, 'firnstore')).toBeVisible();
    await page.keyboard.press('/');
    await page.keyboard.type('glacis');
    await expect(line(page, 'firnstore')).toHaveCount(0);
    await line(page, 'glacis-router').focus();
    await page.keyboard.press('ArrowDown');
    await expect(line(page, 'glacis-state')).toBeFocused();
    await page.keyboard.press('Space');
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('Enter');
    await expect(page.getByText('can be taken;').first()).toBeVisible();
    await page.keyboard.press('Enter');
    await page.keyboard.press('Space');
    const sum = page.getByRole('region', { name: 'Chosen' });
    await expect(sum).toContainText('2 minors');
    await expect(sum).toContainText('copies move');
    // The choice is in the address.
    await page.reload();
    await expect(sum).toContainText('2 minors');
    await page.keyboard.press('p');
    await expect(draftOf(page).getByText('6.2.1 → 6.4.2', { exact: true })).toBeVisible();
    await postDraftByKeys(page);
    expect(await workspace.git('show', 'main:ledger.lock')).toContain('copy glacis-router 6.4.2\n');
    await expect(line(page, 'glacis-state')).toHaveCount(0);
  });

  test('a major that has no answer says why; in a draft a suggested fix gives one', async ({
    page,
    workspace,
  }) => {
    await page.goto(`/w/${workspace.slug}/upgrades?open=windslab-worker`);
    await expect(page.getByText('is ruled out by the pin of rime-headers').first()).toBeVisible();
    await line(page, 'windslab-worker').focus();
    // From the patch on to the major step.
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('p');
    const draft = draftOf(page);
    await expect(draft).toContainText(
      'rime-headers 1.1.0, to which it is pinned, is not in ^1.1.1.',
    );
    const way = draft
      .getByRole('listitem')
      .filter({ hasText: 'Take away the pin of rime-headers to 1.1.0.' });
    await press(page, way.getByRole('button', { name: 'Take this way' }));
    await expect(draft).toContainText('Copies in the lockfile');
    await postDraft(page);
    expect(await workspace.git('show', 'main:ledger.lock')).toContain(
      'copy windslab-worker 2.0.1\n',
    );
  });

  test('a standing order is set by a draft, run by hand, and what it prepared is posted by a person', async ({
    page,
    workspace,
  }) => {
    await page.goto(`/w/${workspace.slug}/upgrades`);
    await page.getByRole('button', { name: 'Set a standing order…' }).click();
    const form = page.getByRole('dialog');
    await form.getByLabel('Name').fill('daily-minors');
    await form.getByLabel('Every').fill('someday');
    await expect(form).toContainText('Write a day of the week such as "monday"');
    await form.getByLabel('Every').fill('0 5 * * *');
    await form.getByLabel('Takes').selectOption('minor');
    await form.getByLabel('Packages').fill('glacis-*');
    await form.getByRole('button', { name: 'Pencil it in' }).click();
    await expect(draftOf(page)).toContainText('standing order');
    await postDraft(page);
    const order = page.getByRole('listitem', { name: 'daily-minors' });
    await expect(order).toContainText('It has not run yet.');
    await press(page, order.getByRole('button', { name: 'Run daily-minors now' }));
    await expect(order).toContainText('2 upgrades');
    await press(page, order.getByRole('button', { name: 'open the draft' }));
    await expect(draftOf(page)).toContainText('standing order daily-minors’s');
    await postDraft(page);
    expect(await workspace.git('log', '-1', '--format=%an', 'main')).toBe(
      'standing order daily-minors\n',
    );
    await press(page, order.getByRole('button', { name: 'Run daily-minors now' }));
    await expect(order).toContainText('Nothing newer was there.');
  });

  test('a set moves as one; what stands against it is told; an age takes offers away at once', async ({
    page,
    workspace,
  }) => {
    await page.goto(`/w/${workspace.slug}/upgrades?open=moraine`);
    const reasons = page.getByRole('row').filter({ hasText: 'move together.' });
    await expect(reasons).toContainText(
      'moraine-core, moraine-forms, moraine-grid, moraine-charts move together.',
    );
    await expect(reasons).toContainText('asks for glacis-state ^2.1.0 beside it');
    await page.getByLabel('older than').selectOption('90');
    await expect(page.getByText(/^takes \d+ offers? away$/)).not.toHaveText('takes 0 offers away');
    await page.getByLabel('older than').selectOption('0');
    await page.getByRole('radio', { name: /^All copies/ }).click();
    await page.getByLabel('Find a package').fill('no such thing');
    await expect(page.getByText('Nothing newer is named “no such thing”.')).toBeVisible();
  });
});
