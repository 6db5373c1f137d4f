import type { Browser, Page } from '@playwright/test';
import { draftOf, press, row } from './workspace-steps.js';
import { expect, signIn, test, type Person } from './workspace-fixture.js';

/** A browser of its own in which somebody else is signed in. */
async function pageOf(browser: Browser, name: Person): Promise<Page> {
  const context = await browser.newContext({ storageState: { cookies: [], origins: [] } });
  await signIn(context.request, name);
  return context.newPage();
}

async function pencilIn(page: Page, slug: string): Promise<void> {
  await page.goto(`/w/${slug}/alignment?open=scree-log&q=scree-log`);
  await expect(row(page, 'scree-log')).toBeVisible();
  await page.getByRole('slider').focus();
  await page.keyboard.press('Enter');
  await expect(draftOf(page).getByText('in pencil until it is posted')).toBeVisible();
}

test('a page asks to sign in first, by keys alone, and then goes on to where one wanted', async ({
  browser,
}) => {
  const context = await browser.newContext({ storageState: { cookies: [], origins: [] } });
  const page = await context.newPage();
  await page.goto('/w/brindlepeak/findings?weight=grave');
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await page.keyboard.type('gate');
  await page.keyboard.press('Tab');
  await page.keyboard.type('not the password');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Name and password do not belong together.')).toBeVisible();
  await page.getByLabel('Password').fill('brindlepeak demo');
  await page.keyboard.press('Enter');
  // The address is an old one; it leads on to what it is called now.
  await expect(page).toHaveURL(/\/w\/brindlepeak\/findings\?severity=error/);
  await page.getByRole('button', { name: 'sign out' }).click();
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await context.close();
});

test('an editor prepares, a second person approves, a keeper posts', async ({
  page,
  browser,
  request,
  workspace,
}) => {
  const { slug } = workspace;
  await page.goto(`/w/${slug}/team`);
  await page.getByRole('checkbox').click();
  await expect(page.getByText('A post waits for a second person.')).toBeVisible();

  const kiosk = await pageOf(browser, 'kiosk');
  await pencilIn(kiosk, slug);
  const theirs = draftOf(kiosk);
  await expect(theirs.getByText('A post waits for a second person’s approval.')).toBeVisible();
  await expect(theirs.getByRole('button', { name: 'Post to main…' })).toBeDisabled();
  await expect(theirs.getByRole('button', { name: 'approve it as it stands' })).toHaveCount(0);
  await theirs.getByRole('button', { name: 'comment…' }).click();
  await theirs.getByLabel('Comment').fill('The kiosk image is ready for it.');
  await theirs.getByRole('button', { name: 'say it' }).click();
  await expect(theirs.getByText('The kiosk image is ready for it.')).toBeVisible();
  const id = new URL(kiosk.url()).searchParams.get('draft');

  await page.goto(`/w/${slug}/alignment?draft=${id}`);
  const draft = draftOf(page);
  await expect(draft.getByText('The kiosk image is ready for it.')).toBeVisible();
  await expect(draft.getByRole('button', { name: 'Post to main…' })).toBeDisabled();
  await press(page, draft.getByRole('button', { name: 'approve it as it stands' }));
  await expect(draft.getByText('Approved as it stands.')).toBeVisible();
  await press(page, draft.getByRole('button', { name: 'Post to main…' }));
  await press(page, page.getByRole('button', { name: 'Post', exact: true }));
  await expect(page.getByText('Posted to main')).toBeVisible();
  expect(await workspace.git('log', '-1', '--format=%an, %cn', 'main')).toBe(
    'kiosk crew, platform crew\n',
  );
  expect(
    await workspace.git('log', '-1', '--format=%(trailers:key=Approved-by,valueonly)', 'main'),
  ).toMatch(/^platform crew </);
  const record = await request.get(`/api/audit?workspace=${slug}`);
  expect(await record.text()).toMatch(/postDraft[^]*approveDraft[^]*commentDraft/);
  await kiosk.context().close();
});

test('somebody is added, chooses a password by the link, and looks without changing anything', async ({
  page,
  browser,
}) => {
  await page.goto('/w/brindlepeak/team');
  const name = `crew-${Date.now()}`;
  await page.getByRole('button', { name: 'Add somebody…' }).click();
  await page.getByLabel('Name to sign in with').fill(name);
  await page.getByLabel('Name to show').fill('Snow crew');
  await page.getByLabel('E-mail').fill('snow@brindlepeak.example');
  await page.locator('form').getByLabel('May').selectOption('reader');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  const link = await page.getByText('/link#').textContent();

  const context = await browser.newContext({ storageState: { cookies: [], origins: [] } });
  const other = await context.newPage();
  await other.goto(link!);
  await expect(other.getByText(`Choose a password for ${name}.`)).toBeVisible();
  await other.getByLabel('Password').fill('short of breath, not of words');
  await other.getByRole('button', { name: 'Choose it and sign in' }).click();
  await expect(other.getByRole('link', { name: 'brindlepeak' }).first()).toBeVisible();
  await other.goto('/w/brindlepeak/team');
  await expect(other.getByText('Snow crew (you)')).toBeVisible();
  await expect(other.getByRole('button', { name: 'Add somebody…' })).toHaveCount(0);
  await context.close();

  const line = page.getByRole('row').filter({ hasText: name });
  await line.getByRole('button', { name: 'disable' }).click();
  await expect(line.getByText('disabled')).toBeVisible();
});

test('a token is told once and can be revoked', async ({ page, workspace, request }) => {
  await page.goto(`/w/${workspace.slug}/team`);
  await page.getByRole('button', { name: 'Make a token…' }).click();
  await page.getByRole('textbox', { name: 'Machine' }).fill('nightly build');
  await page.getByRole('button', { name: 'Make it' }).click();
  await expect(page.getByText('The token of nightly build')).toBeVisible();
  const secret = (await page.locator('.select-all').textContent())!;
  expect(secret).toMatch(/^[\w-]{43}$/);
  await page.getByRole('button', { name: 'I have it' }).click();
  await expect(page.getByText(secret)).toHaveCount(0);
  const line = page.getByRole('row').filter({ hasText: 'nightly build' });
  await line.getByRole('button', { name: 'revoke' }).click();
  await expect(line).toHaveCount(0);
  const listed = await request.get(`/api/workspaces/${workspace.slug}/tokens`);
  expect(await listed.json()).toEqual([]);
});

test('where a registry is can be tried and set, and what does not answer changes nothing', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/team`);
  await page.getByRole('button', { name: 'change main' }).click();
  const address = page.getByRole('textbox', { name: 'Address' });
  await expect(address).toBeFocused();
  const known = await address.inputValue();
  await page.getByRole('textbox', { name: 'Try it with a package' }).fill('scree-log');
  await page.getByRole('button', { name: 'Try', exact: true }).click();
  await expect(page.getByText(/main answers: scree-log has \d+ releases/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Try it with a package' }).fill('@nobody/knows');
  await page.getByRole('button', { name: 'Try', exact: true }).click();
  await expect(page.getByText('main answers, and has no package @nobody/knows')).toBeVisible();

  await address.fill('http://127.0.0.1:9');
  await page.getByRole('button', { name: 'Set' }).click();
  await expect(page.getByRole('alert')).toContainText('The registry does not answer');
  await address.fill(known);
  await address.press('Enter');
  await expect(page.getByRole('form', { name: 'The registry main' })).toHaveCount(0);
  await expect(page.getByRole('row').filter({ hasText: known })).toBeVisible();
});
