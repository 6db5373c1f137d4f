import type { Page } from '@playwright/test';
import axe from 'axe-core';
import { expect, test } from './workspace-fixture.js';
import { widerThanScreen } from './workspace-steps.js';

/** Every page of the demo: its title, and what says that it is drawn. */
const PAGES: readonly (readonly [address: string, title: string, drawn: string | RegExp])[] = [
  ['/', 'Deep Ledger', 'Open a repository of your own'],
  ['/w/brindlepeak/overview', 'Overview', /shared packages are out of line/],
  [
    '/w/brindlepeak/findings?cause=package+tarn-json',
    'Findings',
    /^pass-office asks for tarn-json/,
  ],
  ['/w/brindlepeak/alignment?open=scree-log', 'Alignment', 'Level at 3.2.4'],
  ['/w/brindlepeak/shared', 'Shared versions', /lapsed \d+ days ago/],
  ['/w/brindlepeak/alignment?view=grid', 'Alignment', 'in pencil'],
  ['/w/brindlepeak/centralise', 'Centralise', 'Would change'],
  ['/w/brindlepeak/upgrades?open=moraine', 'Upgrades', 'left out, with its reason'],
  ['/w/brindlepeak/registry?q=log&package=scree-log', 'Registry', 'Add it to'],
  ['/w/brindlepeak/trace?package=tarn-json', 'Trace tarn-json', 'Why two copies'],
  ['/w/brindlepeak/trace/weights', 'What leaves with each requirement', 'Asks for'],
  ['/w/brindlepeak/projects', 'Projects', 'season-kiosk'],
  ['/w/brindlepeak/projects/apps/season-kiosk', 'season-kiosk', 'runtime: at run time'],
  ['/w/brindlepeak/lockfile?q=tarn-json', 'Lockfile', /commits changed it/],
  ['/w/brindlepeak/drift', 'Drift', /differs from the lockfile/],
  ['/w/brindlepeak/machines', 'Machines', 'What is installed'],
  ['/w/brindlepeak/archives', 'Archives', /^not kept/],
  ['/w/brindlepeak/diff', 'Drafts', 'Begin another draft'],
  ['/w/brindlepeak/merge?from=desk-printer', 'Merge branches', 'What both sides changed'],
  ['/w/brindlepeak/journal', 'Journal', /commits from outside/],
  ['/w/brindlepeak/team', 'Team', 'Access tokens'],
  ['/w/brindlepeak/file?path=ledger.toml', 'ledger.toml', /lines/],
  ['/w/wendholm/bring-in', 'Bring in', /9 projects, 65 requirements/],
  ['/w/brindlepeak/nothing', 'No such page', 'Nothing is kept at this address'],
  ['/w/wendholm/bring-in?step=registries', 'Bring in', 'Another registry'],
];

let page: Page;

/* One page for all, led on as a link leads: loading the application and axe anew for each takes longer than looking. */
test.beforeAll(async ({ browser, keeper }) => {
  page = await browser.newPage({ storageState: keeper.state, reducedMotion: 'reduce' });
  await page.goto('/');
  await page.evaluate(axe.source);
});

test.afterAll(() => page.close());

async function open(address: string, title: string, drawn: string | RegExp): Promise<void> {
  await page.evaluate((to) => {
    window.history.pushState(null, '', to);
    window.dispatchEvent(new PopStateEvent('popstate'));
  }, address);
  await expect(page).toHaveTitle(address === '/' ? title : new RegExp(`^${title} · `));
  await expect(page.getByText(drawn).first()).toBeVisible();
}

/** Until the page has been drawn at its new size: what measures itself draws a second time. */
async function look(colorScheme: 'light' | 'dark', width: number): Promise<void> {
  await page.emulateMedia({ colorScheme });
  await page.setViewportSize({ width, height: 800 });
  await page.evaluate(
    () => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn))),
  );
}

/** What axe objects to, in lines that say where. */
function objections(): Promise<string[]> {
  return page.evaluate(async () => {
    const here = window as unknown as { readonly axe: typeof axe };
    const { violations } = await here.axe.run(document, { resultTypes: ['violations'] });
    return violations.flatMap(({ id, help, nodes }) =>
      nodes.map(({ target }) => `${id}: ${help}: ${target.join(' ')}`),
    );
  });
}

async function tooWide(): Promise<string[]> {
  const wider = await widerThanScreen(page);
  return wider > 0 ? [`${wider} px wider than the screen`] : [];
}

for (const [address, title, drawn] of PAGES)
  test(`axe objects to nothing on ${address}, and it is no wider than the screen`, async () => {
    await look('light', 1280);
    await open(address, title, drawn);
    const found: Record<string, readonly string[]> = { 'light at 1280': await tooWide() };
    // The widest shows all that any width shows, but for what only the narrowest has.
    for (const [colorScheme, width] of [
      ['light', 1920],
      ['dark', 390],
    ] as const) {
      await look(colorScheme, width);
      found[`${colorScheme} at ${width}`] = [...(await tooWide()), ...(await objections())];
    }
    expect(found).toEqual({ 'light at 1280': [], 'light at 1920': [], 'dark at 390': [] });
  });
