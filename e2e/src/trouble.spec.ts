import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { commitFile, copyOfDemo, expect, git, REGISTRY, test } from './workspace-fixture.js';

test('a repository of one’s own is opened from the first page; what is missing is said', async ({
  page,
  request,
}) => {
  const repository = await copyOfDemo();
  const close = async (): Promise<void> => {
    const [, slug] = /\/w\/([^/]+)/.exec(page.url())!;
    await request.delete(`/api/workspaces/${slug}`);
  };
  await page.goto('/');
  await page.getByRole('textbox', { name: 'Repository' }).fill('/nonexistent/repository.git');
  await page.getByRole('textbox', { name: 'Registry' }).fill(REGISTRY);
  await page.getByRole('button', { name: 'Open', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText(
    'git cannot read /nonexistent/repository.git',
  );

  await git(
    repository,
    'update-ref',
    'refs/heads/empty',
    (
      await git(
        repository,
        'commit-tree',
        '-m',
        'empty',
        '4b825dc642cb6eb9a060e54bf8d69288fbee4904',
      )
    ).trim(),
  );
  await page.getByRole('textbox', { name: 'Repository' }).fill(repository);
  await page.getByRole('textbox', { name: 'Branch' }).fill('empty');
  await page.getByRole('button', { name: 'Open', exact: true }).click();
  await expect(page.getByRole('heading', { name: /^Bring in / })).toBeVisible();
  await close();

  await page.goto('/');
  await page.getByRole('textbox', { name: 'Repository' }).fill(repository);
  await page.getByRole('textbox', { name: 'Registry' }).fill(REGISTRY);
  await page.getByRole('textbox', { name: 'Branch' }).fill('grid-trial');
  await page.getByRole('button', { name: 'Open', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Overview' })).toBeVisible();
  await page.getByRole('button', { name: 'lockfile stale: 2 reasons' }).click();
  await expect(page.getByRole('dialog')).toContainText(
    'slope-board requires moraine-core "4.2.0"; the lockfile answers "shared", which stands for 4.1.0.',
  );
  await expect(page.getByRole('dialog')).toContainText('apps/slope-board/ledger.project.toml:9:1');
  await close();
  await rm(join(repository, '..'), { recursive: true, force: true });
});

test('a manifest with a mistake is named with its place, and the rest can still be read', async ({
  page,
  workspace,
}) => {
  await workspace.commit(
    'services/roster/ledger.project.toml',
    (text) => text.replace('cairn-dates = "shared"', 'cairn-dates = "lately"'),
    'Oops',
  );
  await page.goto(`/w/${workspace.slug}/alignment`);
  await page.getByRole('button', { name: 'read now' }).click();
  await expect(page.getByRole('alert')).toContainText(
    '1 problem in the files; nothing can be posted until it is repaired',
  );
  await expect(page.getByRole('alert')).toContainText('services/roster/ledger.project.toml:8:16');
  await expect(page.getByRole('alert')).toContainText('"lately" is no version');
  await expect(page.locator('tr[data-package="scree-log"]')).toBeVisible();
  await page.goto(`/w/${workspace.slug}/alignment?open=scree-log`);
  await expect(page.getByText('The workspace has no answer then.')).toBeVisible();
});

test('a registry that falls silent leaves the page usable and says so', async ({
  page,
  request,
}) => {
  const repository = await copyOfDemo();
  const proxy = createServer((incoming, outgoing) => {
    void fetch(`${REGISTRY}${incoming.url ?? ''}`).then(async (answer) => {
      outgoing.writeHead(answer.status, { 'content-type': 'application/json' });
      outgoing.end(await answer.text());
    });
  });
  await new Promise<void>((resolve) => proxy.listen(0, '127.0.0.1', resolve));
  const registry = `http://127.0.0.1:${(proxy.address() as AddressInfo).port}`;
  const opened = await request.post('/api/workspaces', {
    data: { address: repository, branch: 'main', registry },
  });
  const { slug } = (await opened.json()) as { slug: string };
  proxy.closeAllConnections();
  await new Promise((resolve) => proxy.close(resolve));

  await page.goto(`/w/${slug}/alignment`);
  await page.getByRole('button', { name: 'read now' }).click();
  await expect(page.getByRole('alert')).toContainText('The registry does not answer');
  await expect(page.getByRole('alert')).toContainText('What follows rests on what it said before.');
  await expect(page.getByRole('treegrid')).toHaveAttribute('aria-rowcount', '24');

  await commitFile(
    repository,
    'libs/ui-kit/ledger.project.toml',
    (text) => text.replace('[needs]\n', '[needs]\npenitente-svg = "^1.0.0"\n'),
    'Draw',
  );
  await page.getByRole('button', { name: 'read now' }).click();
  await expect(page.getByRole('alert')).toContainText(
    'Nothing is known of penitente-svg, so drafts cannot be evaluated.',
  );
  await request.delete(`/api/workspaces/${slug}`);
  await rm(join(repository, '..'), { recursive: true, force: true });
});

test('addresses that lead nowhere say so', async ({ page, workspace }) => {
  await page.goto('/w/nowhere/alignment');
  await expect(page.getByRole('alert')).toContainText('No workspace named nowhere is open here.');
  await page.goto(`/w/${workspace.slug}/nothing`);
  await expect(page.getByRole('heading', { name: 'No such page' })).toBeVisible();
  await page.goto(
    `/w/${workspace.slug}/alignment?open=nothing&draft=00000000-0000-4000-8000-000000000000`,
  );
  await expect(page.getByText('no draft', { exact: true })).toBeVisible();
});

test('a filter that leaves nothing says so and can be cleared', async ({ page, workspace }) => {
  await page.goto(`/w/${workspace.slug}/alignment?q=nothing-like-this&show=out`);
  await expect(page.getByText('No package is left by this filter.')).toBeVisible();
  await page.getByRole('button', { name: 'Show all' }).click();
  await expect(page.getByRole('treegrid')).toHaveAttribute('aria-rowcount', '24');
});

test('the page can be read on a phone, and the draft folds away', async ({ page, workspace }) => {
  await page.setViewportSize({ width: 390, height: 800 });
  await page.goto(`/w/${workspace.slug}/alignment`);
  await expect(page.locator('tr[data-package="scree-log"]')).toContainText('(6)');
  await page.getByRole('button', { name: /^Alignment/ }).click();
  await page.getByRole('link', { name: /^Drafts/ }).click();
  await page.getByRole('button', { name: 'Begin another draft' }).click();
  const edits = page.getByText('No edits yet.');
  await expect(edits).not.toBeInViewport();
  await page.getByRole('button', { name: /Draft in hand/ }).click();
  await expect(edits).toBeInViewport();
});

test('pages that others lead to are opened by their address too', async ({ page }) => {
  for (const [address, title] of [
    ['trace/weights', 'What leaves with each requirement'],
    ['projects/apps/season-kiosk', 'season-kiosk'],
    ['file?path=ledger.toml', 'ledger.toml'],
  ] as const) {
    await page.goto(`/w/brindlepeak/${address}`);
    await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible();
    await expect(page).toHaveTitle(`${title} · brindlepeak · Deep Ledger`);
  }
});
