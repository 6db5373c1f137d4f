import { readFile } from 'node:fs/promises';
import { expect, test } from './workspace-fixture.js';
import { draftOf, postDraft, press } from './workspace-steps.js';

const copiesOf = (lock: string, name: string): string[] =>
  [...lock.matchAll(new RegExp(`^copy ${name} (\\S+)$`, 'gm'))].map((match) => match[1]!);

test('from two copies to a posted commit that leaves one, without leaving Trace', async ({
  page,
  workspace,
}) => {
  const before = await workspace.git('show', 'main:ledger.lock');
  expect(copiesOf(before, 'hoarfrost-hash')).toEqual(['1.0.2', '2.0.2']);
  await page.goto(`/w/${workspace.slug}/trace?package=hoarfrost-hash`);
  await expect(page.getByText(/^2 copies, reached by \d+ chains/)).toBeVisible();
  await page.getByRole('button', { name: 'Try it' }).click();
  const whatIf = page.getByRole('region', { name: 'What if' });
  await expect(whatIf.getByText(/\d+ → \d+/).first()).toBeVisible();
  await expect(
    page.getByRole('button', { name: /^hoarfrost-hash 1\.0\.2, .* would leave/ }),
  ).toBeVisible();
  await whatIf.getByRole('button', { name: 'Pencil it in' }).click();
  await expect(whatIf).toBeHidden();
  await postDraft(page);
  await expect(page.getByText(/^1 copy, reached by \d+ chains/)).toBeVisible();
  expect(new URL(page.url()).pathname).toBe(`/w/${workspace.slug}/trace`);
  const after = await workspace.git('show', 'main:ledger.lock');
  expect(copiesOf(after, 'hoarfrost-hash')).toEqual(['2.0.2']);
  const files = await workspace.git('show', '--name-only', '--format=', 'main');
  expect(files.trim()).toBe('ledger.lock');
});

test('a node is chosen by keys; the address keeps it, and another browser opens the same', async ({
  page,
  workspace,
  context,
}) => {
  await page.goto(`/w/${workspace.slug}/trace?package=tarn-json`);
  const node = page.getByRole('button', { name: /^glacis-state 2\.0\.2,/ });
  await press(page, node);
  await expect(node).toHaveAttribute('aria-pressed', 'true');
  await page.getByText('If glacis-state 2.0.2 left').click();
  await expect(page.getByText(/^It would take|^Nothing else would leave/)).toBeVisible();
  const first = page.getByRole('list', { name: 'Chains' }).getByRole('listitem').first();
  await expect(first).toContainText('glacis-state');
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(other.getByRole('button', { name: /^glacis-state 2\.0\.2,/ })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
});

test('what has no answer stays where it was tried, with its explanation and suggested fixes', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/trace?package=scree-log`);
  const form = page.getByRole('form', { name: 'Try something out' });
  await form.getByLabel('What if').selectOption({ label: 'roster' });
  await form.getByRole('combobox').nth(1).selectOption({ label: 'asked otherwise for' });
  await form.getByLabel('Range').fill('3.3.0');
  await form.getByRole('button', { name: 'Try' }).click();
  const whatIf = page.getByRole('region', { name: 'What if' });
  await expect(whatIf.getByText('services/roster asks for scree-log 3.3.0')).toBeVisible();
  await expect(whatIf.getByRole('alert')).toContainText('runtime');
  await page.reload();
  await expect(whatIf.getByRole('alert')).toContainText('runtime');
  await whatIf.getByRole('button', { name: 'Try this as well' }).first().click();
  await expect(whatIf.getByRole('alert')).toBeHidden();
  await whatIf.getByRole('button', { name: 'Take back' }).first().click();
  await whatIf.getByRole('button', { name: 'Take back' }).first().click();
  await expect(whatIf).toBeHidden();
});

test('p puts what was tried into the draft; a struck-out requirement shows what leaves', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/trace?package=penitente-pdf`);
  const chain = page.getByRole('list', { name: 'Chains' }).getByRole('listitem').first();
  await chain.getByRole('button', { name: /^What if pass-office did not require/ }).click();
  const whatIf = page.getByRole('region', { name: 'What if' });
  await expect(whatIf.getByText('1 leaves the lockfile')).toBeVisible();
  await page.keyboard.press('p');
  await expect(draftOf(page).getByRole('list', { name: 'Edits' })).toContainText('penitente-pdf');
});

test('what would come in is drawn in pencil, and where it would hang', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/trace?project=services/roster`);
  const form = page.getByRole('form', { name: 'Try something out' });
  await form.getByRole('combobox').nth(1).selectOption({ label: 'also required' });
  await form.getByLabel('Package').fill('glacis-router');
  await form.getByLabel('Range').fill('^6.2.0');
  await form.getByRole('button', { name: 'Try' }).click();
  await expect(
    page.getByRole('button', { name: 'glacis-router 6.2.1, would come in' }),
  ).toBeVisible();
  await page
    .getByRole('region', { name: 'What if' })
    .getByRole('button', { name: 'Take back' })
    .click();
  await expect(page.getByRole('button', { name: /would come in/ })).toHaveCount(0);
});

test('a link between copies is struck out by keys, tells what would leave, and is in the address', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/trace?project=services/roster`);
  const chains = page.getByRole('list', { name: 'Chains' });
  await press(
    page,
    chains
      .getByRole('button', {
        name: 'What if cairn-dates 2.4.1 did not require snowline-units 1.0.2',
      })
      .first(),
  );
  const struck = page.getByRole('region', { name: 'Links struck out' });
  await expect(struck).toContainText('cairn-dates 2.4.1 without snowline-units 1.0.2');
  await expect(struck).toContainText('would leave');
  await page.reload();
  await expect(struck).toContainText('no draft can change that');
  await press(page, struck.getByRole('button', { name: 'Take back' }));
  await expect(struck).toBeHidden();
});

test('a line is struck out by a click, and dragging over it only moves the drawing', async ({
  page,
  workspace,
}) => {
  await page.goto(`/w/${workspace.slug}/trace?project=services/roster`);
  const drawing = page.getByRole('group', { name: /^Trace roster/ });
  await expect(page.getByRole('button', { name: /^roster,/ })).toBeVisible();
  // Letters that come later would move the drawing.
  await page.evaluate(() => document.fonts.ready);
  // A line may run beneath others: one is looked for that is on top somewhere along its way.
  const point = await drawing.locator('path[data-link]').evaluateAll((paths) => {
    for (const path of paths as SVGPathElement[])
      for (let share = 0.2; share < 0.8; share += 0.1) {
        const at = path.getPointAtLength(path.getTotalLength() * share);
        const { x, y } = at.matrixTransform(path.getScreenCTM()!);
        if (document.elementFromPoint(x, y) === path) return { x, y };
      }
    return null;
  });
  const box = (await drawing.getAttribute('viewBox'))!;
  await page.mouse.move(point!.x, point!.y);
  await page.mouse.down();
  await page.mouse.move(point!.x + 30, point!.y + 10);
  await page.mouse.up();
  await expect(drawing).not.toHaveAttribute('viewBox', box);
  expect(page.url()).not.toMatch(/if=|strike=/);
  await page.mouse.click(point!.x + 30, point!.y + 10);
  await expect(page).toHaveURL(/if=|strike=/);
});

test('a drawing is saved as SVG, PNG, DOT and GraphML', async ({ page, workspace }) => {
  await page.goto(`/w/${workspace.slug}/trace?package=tarn-json`);
  await expect(page.getByRole('button', { name: /^tarn-json 1\.2\.9,/ })).toBeVisible();
  const begin: Readonly<Record<string, RegExp>> = {
    SVG: /^<svg .*tarn-json/s,
    PNG: /^.PNG/,
    DOT: /^digraph trace \{/,
    GraphML: /^<\?xml .*<graphml/s,
  };
  for (const [format, pattern] of Object.entries(begin)) {
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: `Save ${format}` }).click();
    const text = await readFile(await (await download).path(), 'latin1');
    expect(text).toMatch(pattern);
    expect(text.length).toBeGreaterThan(200);
  }
});

test('the projects among themselves, with their cycle pointed out', async ({ page, workspace }) => {
  await page.goto(`/w/${workspace.slug}/trace`);
  await expect(page.getByText('1 cycle: libs/lift-protocol, libs/piste-model.')).toBeVisible();
  await expect(page.getByRole('button', { name: /^piste-model, .* in a cycle/ })).toBeVisible();
});
