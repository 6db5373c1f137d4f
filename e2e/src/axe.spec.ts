import type { Page, Request } from '@playwright/test';
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
  ['/w/brindlepeak/trace/weights', 'What leaves with each requirement', 'the heaviest'],
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
/** What the page waits for; that it is told what happens never ends. */
const asked = new Set<Request>();

/* One page for all, led on as a link leads: loading the application and axe anew for each takes longer than looking. */
test.beforeAll(async ({ browser, keeper }) => {
  page = await browser.newPage({ storageState: keeper.state, reducedMotion: 'reduce' });
  page.on('request', (request) => {
    if (!request.url().endsWith('/events')) asked.add(request);
  });
  page.on('requestfinished', (request) => asked.delete(request));
  page.on('requestfailed', (request) => asked.delete(request));
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

/** Until the page has been drawn at its new size, with all that it asks for: what measures itself draws a second time. */
async function look(colorScheme: 'light' | 'dark', width: number): Promise<void> {
  await page.emulateMedia({ colorScheme });
  await page.setViewportSize({ width, height: 800 });
  do {
    await expect.poll(() => asked.size).toBe(0);
    await page.evaluate(
      () => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn))),
    );
  } while (asked.size > 0);
}

/**
 * What axe objects to, in lines that say where. Colours are looked at last, and of what is coloured alike beside each
 * other in two: it takes most of the time by far, and a row of a table says nothing new of them.
 */
function objections(): Promise<string[]> {
  return page.evaluate(async () => {
    const here = window as unknown as { readonly axe: typeof axe };
    const COLOURED = ['color', 'background-color', 'background-image', 'opacity', 'fill'];
    const SHOWN = ['display', 'visibility', 'position', 'font-size', 'font-weight'];
    const alike: Element[] = [];
    const known = new Map<string, number>();
    const looksOf = (element: Element): number => {
      const style = getComputedStyle(element);
      const own = [...COLOURED, ...SHOWN].map((name) => style.getPropertyValue(name));
      const says = [...element.childNodes].some((one) => one.nodeName === '#text');
      const beside = new Map<number, number>();
      const inside = [...element.children].map((child) => {
        const looks = looksOf(child);
        const before = beside.get(looks) ?? 0;
        beside.set(looks, before + 1);
        if (before > 1) alike.push(child);
        return looks;
      });
      const looks = JSON.stringify([element.tagName, own, says, inside]);
      if (!known.has(looks)) known.set(looks, known.size);
      return known.get(looks)!;
    };
    looksOf(document.body);
    const resultTypes = ['violations' as const];
    const made = await here.axe.run(document, {
      resultTypes,
      rules: { 'color-contrast': { enabled: false } },
    });
    const coloured = await here.axe.run(
      { exclude: alike },
      { resultTypes, runOnly: ['color-contrast'] },
    );
    return [...made.violations, ...coloured.violations].flatMap(({ id, help, nodes }) =>
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
