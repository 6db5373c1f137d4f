import { rm } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { Page } from '@playwright/test';
import { fillRegistries, HOUSE_FIELDS, registryFields } from './bring-in-steps.js';
import { copyOf, expect, FERRIES, git, REGISTRY, test } from './workspace-fixture.js';
import { draftOf, postDraft, postDraftByKeys, press, widerThanScreen } from './workspace-steps.js';

let repository: string;

test.beforeEach(async () => {
  repository = await copyOf(FERRIES);
});
test.afterEach(() => rm(dirname(repository), { recursive: true, force: true }));

const figures = (page: Page) => page.getByLabel('Figures over all files');

/** The files of the newest commit, each with what happened to it and how many lines changed. */
async function changedFiles(): Promise<readonly string[]> {
  const said = await git(repository, 'diff', '--numstat', 'HEAD~1', 'HEAD');
  return said.trim().split('\n');
}

test('Wendholm is brought in from nothing by pointer, then one package is levelled in four layouts', async ({
  page,
  request,
}) => {
  await page.goto('/');
  await page.getByRole('textbox', { name: 'Repository' }).fill(repository);
  await page.getByRole('button', { name: 'Open', exact: true }).click();
  await expect(page).toHaveURL(/\/bring-in/);
  const slug = /\/w\/([^/]+)/.exec(page.url())![1]!;
  await expect(page.getByText(/9 projects, 65 requirements on 39 packages/)).toBeVisible();
  await expect(page.getByText('same as crew-roster')).toBeVisible();

  await page.getByRole('button', { name: 'Change how it is read' }).click();
  const files = page.getByRole('textbox', { name: 'Files' });
  await files.fill('boats/*/parts.yaml');
  await expect(figures(page)).toContainText('0 of 0');
  await expect(
    page.getByText('No file matches "boats/*/parts.yaml"', { exact: false }),
  ).toBeVisible();
  await files.fill('boats/*/about/parts.yaml');
  await expect(figures(page)).toContainText('6 of 6 · 37');

  await fillRegistries(page);
  await page.setViewportSize({ width: 390, height: 800 });
  expect(await widerThanScreen(page)).toBe(0);
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.getByRole('button', { name: 'Proof and draft' }).click();
  await page.getByRole('button', { name: 'Read, resolve and make a draft' }).click();
  await expect(page.getByText('What is installed today: 39 of 40 versions stay')).toBeVisible();
  await expect(page.getByText('engine-log requires ^2.0.0', { exact: false })).toBeVisible();
  await postDraft(page);
  await expect(
    page.getByText('This repository is a workspace already', { exact: false }),
  ).toBeVisible();
  expect(await git(repository, 'diff', '--name-status', 'HEAD~1', 'HEAD')).toBe(
    'A\tledger.lock\nA\tledger.shapes.toml\nA\tledger.toml\n',
  );
  expect(await git(repository, 'show', 'HEAD:ledger.toml')).toContain(
    'house = ["@house/*", "berth-*"]',
  );
  expect(await git(repository, 'show', 'HEAD:ledger.lock')).toContain('berth-paint 1.2.2');

  await page.goto(`/w/${slug}/alignment?open=Skerry.Log`);
  await page.getByRole('radio', { name: '3.2.2' }).click();
  await page.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(draftOf(page).getByText('Manifests touched')).toBeVisible();
  await postDraft(page);
  const changed = await changedFiles();
  expect(changed.filter((line) => !line.endsWith('ledger.lock'))).toEqual([
    '1\t1\tagreed.json',
    '1\t1\tboats/berth-board/about/parts.yaml',
    '1\t1\tshore/timetable/module.xml',
    '1\t1\ttools/needs.list',
  ]);
  await request.delete(`/api/workspaces/${slug}`);
});

test('Wendholm is brought in by keys alone', async ({ page, request }) => {
  const opened = await request.post('/api/workspaces', { data: { address: repository } });
  const { slug } = (await opened.json()) as { slug: string };
  await page.goto(`/w/${slug}/overview`);
  await expect(page).toHaveURL(/\/bring-in/);

  const kinds = page.getByRole('region', { name: 'Kinds of files' });
  await kinds.getByRole('button', { name: /^boats/ }).focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByText('shore/harbour-office/module.xml')).toBeVisible();
  await expect(figures(page)).toContainText('2 of 2 · 14');
  await page.keyboard.press('ArrowDown');
  await expect(kinds.getByRole('button', { name: /^tools/ })).toBeFocused();

  await press(page, page.getByRole('button', { name: 'Registries', exact: true }));
  await expect(page.getByRole('radio', { name: '2 Registries' })).toBeFocused();
  await press(page, page.getByRole('button', { name: 'Another registry' }));
  const house = registryFields(page, 0);
  await expect(house.getByLabel('Registry', { exact: true })).toBeFocused();
  for (const [label, text] of HOUSE_FIELDS) {
    await house.getByLabel(label, { exact: true }).focus();
    await page.keyboard.insertText(text);
  }
  await press(page, house.getByRole('button', { name: 'Try', exact: true }));
  // While it asks it cannot be pressed, and keeps the focus.
  await expect(house.getByRole('button', { name: 'Try', exact: true })).toBeFocused();
  await press(page, house.getByRole('button', { name: 'Read it so' }));
  await expect(house.getByRole('button', { name: 'Try', exact: true })).toBeFocused();
  await expect(house.getByText('@house/tide-tables: 8 releases')).toBeVisible();
  await registryFields(page, 1).getByLabel('Address', { exact: true }).focus();
  await page.keyboard.insertText(REGISTRY);
  await press(page, page.getByRole('button', { name: 'Proof and draft', exact: true }));
  await expect(page.getByRole('radio', { name: '3 Proof and draft' })).toBeFocused();
  await press(page, page.getByRole('button', { name: 'Read, resolve and make a draft' }));
  await expect(page.getByText('Read and resolved')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Read and resolve again' })).toBeFocused();
  await postDraftByKeys(page);
  expect(await git(repository, 'log', '-1', '--format=%s', 'main')).toBe('Bring in wendholm\n');
  await request.delete(`/api/workspaces/${slug}`);
});
