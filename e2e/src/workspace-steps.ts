import type { Locator, Page } from '@playwright/test';
import { expect } from './workspace-fixture.js';

export function row(page: Page, name: string): Locator {
  return page.locator(`tr[data-package="${name}"]`);
}

export function draftOf(page: Page): Locator {
  return page.getByRole('complementary', { name: 'Draft in hand' });
}

/** By how many pixels a page has to be moved sideways to be seen whole. */
export function widerThanScreen(page: Page): Promise<number> {
  return page.evaluate(
    () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
  );
}

/** Posts the draft in hand to main by pointer. */
export async function postDraft(page: Page): Promise<void> {
  await draftOf(page).getByRole('button', { name: 'Post to main…' }).click();
  await page.getByRole('button', { name: 'Post', exact: true }).click();
  await expectPosted(page);
}

/** Posts the draft in hand to main by keys alone. */
export async function postDraftByKeys(page: Page): Promise<void> {
  await press(page, draftOf(page).getByRole('button', { name: 'Post to main…' }));
  await press(page, page.getByRole('button', { name: 'Post', exact: true }));
  await expectPosted(page);
}

/** The dialog stays until it is posted; word of an earlier post may still stand on the page. */
async function expectPosted(page: Page): Promise<void> {
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByText('Posted to main')).toBeVisible();
}

/** Presses a control by keys: it is focused as Tab would, which passes over what cannot be pressed yet; then Enter is pressed. */
export async function press(page: Page, control: Locator): Promise<void> {
  await expect(control).toBeEnabled();
  await control.focus();
  await expect(control).toBeFocused();
  await page.keyboard.press('Enter');
}

/** The lines that a commit on main took out and put in, of files that match. */
export async function changedLines(
  git: (...args: string[]) => Promise<string>,
  ...paths: string[]
): Promise<readonly string[]> {
  const patch = await git('log', '-1', '-p', '--unified=0', 'main', '--', ...paths);
  return patch.split('\n').filter((line) => /^[+-](?![+-])/.test(line));
}
