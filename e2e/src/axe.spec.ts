import type { Page } from '@playwright/test';
import axe from 'axe-core';
import { expect, test } from './workspace-fixture.js';

/** Every page of the demo, with what says that it is drawn. */
const PAGES: readonly (readonly [address: string, drawn: string | RegExp])[] = [
  ['/', 'Open a repository of your own'],
  ['/w/brindlepeak/overview', /shared packages are out of line/],
  ['/w/brindlepeak/findings?cause=package+tarn-json', /^pass-office asks for tarn-json/],
  ['/w/brindlepeak/alignment?open=scree-log', 'Level at 3.2.4'],
  ['/w/brindlepeak/alignment?view=grid', 'in pencil'],
  ['/w/brindlepeak/shared', /lapsed \d+ days ago/],
  ['/w/brindlepeak/centralise', 'Would change'],
  ['/w/brindlepeak/upgrades?open=moraine', 'left out, with its reason'],
  ['/w/brindlepeak/registry?q=log&package=scree-log', 'Add it to'],
  ['/w/brindlepeak/trace?package=tarn-json', 'Why two copies'],
  ['/w/brindlepeak/trace/weights', 'Asks for'],
  ['/w/brindlepeak/projects', 'season-kiosk'],
  ['/w/brindlepeak/projects/apps/season-kiosk', 'runtime: at run time'],
  ['/w/brindlepeak/lockfile?q=tarn-json', /commits changed it/],
  ['/w/brindlepeak/drift', /differs from the lockfile/],
  ['/w/brindlepeak/machines', /branch/],
  ['/w/brindlepeak/archives', /archives/],
  ['/w/brindlepeak/diff', 'Begin another draft'],
  ['/w/brindlepeak/merge?from=desk-printer', 'What both sides changed'],
  ['/w/brindlepeak/journal', /commits from outside/],
  ['/w/brindlepeak/team', 'Access tokens'],
  ['/w/brindlepeak/file?path=ledger.toml', 'ledger.toml'],
  ['/w/brindlepeak/nothing', 'No such page'],
  ['/w/wendholm/bring-in', /9 projects, 65 requirements/],
  ['/w/wendholm/bring-in?step=registries', 'Another registry'],
];

/** What axe objects to, in lines that say where. */
function objections(page: Page, ofColours: boolean): Promise<string[]> {
  return page.evaluate(async (enabled) => {
    const here = window as unknown as { readonly axe: typeof axe };
    const { violations } = await here.axe.run(document, {
      resultTypes: ['violations'],
      rules: { 'color-contrast': { enabled } },
    });
    return violations.flatMap(({ id, help, nodes }) =>
      nodes.map(({ target }) => `${id}: ${help}: ${target.join(' ')}`),
    );
  }, ofColours);
}

async function open(page: Page, address: string, drawn: string | RegExp): Promise<void> {
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(address);
  await expect(page.getByText(drawn).first()).toBeVisible();
  await page.evaluate(axe.source);
}

/** Until the page has been drawn at its new size: what measures itself draws a second time. */
async function resize(page: Page, width: number): Promise<void> {
  await page.setViewportSize({ width, height: 800 });
  await page.evaluate(
    () => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn))),
  );
}

/** How wide a page is, by day or by night, and whether its colours are looked at: once by day and once by night is enough. */
const LOOKS = [
  ['light', 1280, true],
  ['light', 1920, false],
  ['dark', 390, true],
] as const;

for (const [address, drawn] of PAGES)
  test(`axe objects to nothing on ${address}, and it is no wider than the screen`, async ({
    page,
  }) => {
    await open(page, address, drawn);
    const found: Record<string, readonly string[]> = {};
    for (const [colorScheme, width, ofColours] of LOOKS) {
      await page.emulateMedia({ colorScheme, reducedMotion: 'reduce' });
      await resize(page, width);
      const wrong = await objections(page, ofColours);
      const wider = await page.evaluate(
        () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
      );
      if (wider > 0) wrong.push(`${wider} px wider than the screen`);
      if (wrong.length > 0) found[`${colorScheme} at ${width}`] = wrong;
    }
    expect(found).toEqual({});
  });
