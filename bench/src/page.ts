import { appendFile, mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import type { Page } from '@playwright/test';
import { execa } from 'execa';
import { startStack } from '@deep-ledger/launch/stack';
import { openBrowser } from './browser.js';
import { SIZES, type WorldSize } from './generated-world.js';
import { dragAnswers, firstRows, scrollFrames, tracesDrawn } from './in-page.js';
import { generatedSources } from './generated-sources.js';
import { writeWorld } from './page-world.js';
import { prepare } from './rows.js';
import { ask, signIn, type Session } from './session.js';
import { quantile } from './quantile.js';

/*
 * The page over a generated workspace, in headless Chromium, the whole stack behind it. `npm run bench:page
 * [-- S|M|L]`, L unless named. Frames stand beside those of an empty page that scrolls in the same browser.
 */
const SEED = 20_261_123;
/** So many releases make a rail worth dragging along. */
const LONG_RAIL = 12;
/** As the page Upgrades asks for most, and as many as a browser asks at once. */
const OFFERS_AT_ONCE = 192;
const REQUESTS_AT_ONCE = 6;
const root = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '');

interface Figure {
  readonly what: string;
  readonly found: string;
  readonly atMost: string;
}

const name = process.argv[2] ?? 'L';
const size = SIZES[name as WorldSize['name']] as WorldSize | undefined;
if (size === undefined) throw new RangeError(`"${name}" is none of S, M and L`);
const folder = await mkdtemp(join(tmpdir(), 'deep-ledger-bench-'));
const tell = (line: string): void => void process.stderr.write(`${line}\n`);
try {
  const prepared = prepare(size, SEED);
  tell(`${prepared.projects} projects, ${prepared.copies} copies, ${prepared.releases} releases`);
  const sources = generatedSources(prepared.workspace);
  tell(`${sources.size} source files`);
  const world = await writeWorld(prepared, join(folder, 'world'), sources);
  const stack = await startStack({
    root,
    folder: join(folder, 'stack'),
    port: null,
    isDurable: false,
    today: '2026-11-16',
    tell,
    world,
  });
  try {
    const figures = await measure(stack.url, world.repository);
    process.stdout.write(`${table(figures)}\n`);
  } finally {
    await stack.stop();
  }
} finally {
  await rm(folder, { recursive: true, force: true });
}

async function measure(url: string, repository: string): Promise<readonly Figure[]> {
  const browser = await openBrowser();
  try {
    const session = await signIn(url);
    const page = await browser.newPage({
      viewport: { width: 1280, height: 800 },
      extraHTTPHeaders: { cookie: session.cookie },
    });
    const [{ slug }] = (await (await ask(session, `${url}/api/workspaces`)).json()) as [
      { slug: string },
    ];
    const alignment = `${url}/w/${slug}/alignment`;
    // The first request reads repository and registry; what follows is measured warm.
    await (await ask(session, `${url}/api/workspaces/${slug}/alignment`)).arrayBuffer();
    const scan = await scanFigures(session, url, slug, repository);
    // Every page asks for this figure once for each commit.
    const start = performance.now();
    await (await ask(session, `${url}/api/workspaces/${slug}/findings/count`)).arrayBuffer();
    tell(`findings of the commit, once: ${((performance.now() - start) / 1000).toFixed(1)} s`);
    return [
      ...scan,
      await scriptSize(),
      ...(await rowFigures(page, alignment)),
      ...(await frameFigures(page, alignment)),
      ...(await dragFigures(page, session, url, slug)),
      ...(await traceFigures(page, session, url, slug)),
      ...(await upgradeFigures(page, session, url, slug)),
    ];
  } finally {
    await browser.close();
  }
}

async function scriptSize(): Promise<Figure> {
  const dist = join(root, 'packages/web/dist');
  const html = await readFile(join(dist, 'index.html'), 'utf8');
  const files = [...html.matchAll(/(?:src|href)="\/(assets\/[^"]+\.js)"/g)].map(
    ([, file]) => file!,
  );
  const sizes = await Promise.all(
    files.map(async (file) => gzipSync(await readFile(join(dist, file))).length),
  );
  const total = sizes.reduce((sum, one) => sum + one, 0);
  return {
    what: 'initial script, gzipped',
    found: `${Math.round(total / 1000)} kB`,
    atMost: '300 kB',
  };
}

async function rowFigures(page: Page, alignment: string): Promise<readonly Figure[]> {
  const figures: Figure[] = [];
  for (const scope of ['shared', 'all']) {
    await page.goto(`${alignment}?scope=${scope}`);
    const { ms, bytes } = await page.evaluate(firstRows);
    figures.push({
      what: `first rows after the answer of ${(bytes / 1e6).toFixed(1)} MB, ${scope}`,
      found: `${Math.round(ms)} ms`,
      atMost: '1000 ms',
    });
  }
  return figures;
}

async function frameFigures(page: Page, alignment: string): Promise<readonly Figure[]> {
  const scroll = { selector: null as string | null, distance: 90, frames: 240, isSideways: false };
  await page.setContent(
    '<div style="height:100000px;background:linear-gradient(#eee,#111)"></div>',
  );
  const floor = quantile(await page.evaluate(scrollFrames, scroll), 0.95);
  const figures: Figure[] = [];
  const take = async (what: string, address: string, options: typeof scroll): Promise<void> => {
    await page.goto(address);
    await page
      .locator(options.selector ?? 'tr[data-package]')
      .first()
      .waitFor();
    await page.waitForTimeout(1000);
    const frames = await page.evaluate(scrollFrames, options);
    const at = quantile(frames, 0.95);
    figures.push({
      what: `95% of frames, ${what} (an empty page: ${floor.toFixed(0)} ms)`,
      found: `${at.toFixed(0)} ms`,
      atMost: '34 ms',
    });
  };
  const grid = '[role="grid"]';
  await take('rails, all packages', `${alignment}?scope=all`, scroll);
  await take('grid, down', `${alignment}?scope=all&view=grid`, { ...scroll, selector: grid });
  await take('grid, sideways', `${alignment}?scope=all&view=grid`, {
    ...scroll,
    selector: grid,
    isSideways: true,
  });
  return figures;
}

/** In the panel of the package that most projects require, of those with a long rail. */
async function dragFigures(
  page: Page,
  session: Session,
  url: string,
  slug: string,
): Promise<readonly Figure[]> {
  const answer = await ask(session, `${url}/api/workspaces/${slug}/alignment`);
  const { rows } = (await answer.json()) as {
    rows: { name: string; usedBy: number; releases: object[] }[];
  };
  const long = rows.filter(({ releases }) => releases.length >= LONG_RAIL);
  const [first] = long.sort((a, b) => b.usedBy - a.usedBy);
  await page.goto(`${url}/w/${slug}/alignment?q=${first!.name}&open=${first!.name}`);
  const start = Date.now();
  await page.locator('[role="slider"]').waitFor({ timeout: 120_000 });
  await page.waitForFunction(
    () => document.querySelector('[role="status"]')?.textContent === '',
    null,
    { timeout: 300_000 },
  );
  const ready = Date.now() - start;
  const times = await page.evaluate(dragAnswers, 40);
  return [
    {
      what: 'until the worker holds the model and has tried all candidates',
      found: `${(ready / 1000).toFixed(1)} s`,
      atMost: 'none given',
    },
    ...[0.5, 0.95].map((share) => ({
      what: `answer while dragging, ${share * 100}% of ${times.length} versions`,
      found: `${quantile(times, share).toFixed(0)} ms`,
      atMost: '150 ms',
    })),
  ];
}

/** For the package with the most owners and for many others; the first request of each kind is not counted. */
async function traceFigures(
  page: Page,
  session: Session,
  url: string,
  slug: string,
): Promise<readonly Figure[]> {
  const answer = await ask(session, `${url}/api/workspaces/${slug}/alignment`);
  const { rows } = (await answer.json()) as { rows: { name: string; usedBy: number }[] };
  const names = rows.sort((a, b) => b.usedBy - a.usedBy).map(({ name }) => name);
  const address = (name: string): string => `${url}/api/workspaces/${slug}/trace?package=${name}`;
  await (await ask(session, address(names[0]!))).arrayBuffer();
  const times: number[] = [];
  for (const name of names.slice(0, 60)) {
    const start = performance.now();
    await (await ask(session, address(name))).arrayBuffer();
    times.push(performance.now() - start);
  }
  await page.goto(`${url}/w/${slug}/trace?package=${names[1]!}`);
  await page.locator('main svg rect').first().waitFor({ timeout: 120_000 });
  // Names can be chosen once the page knows them.
  await page.locator('datalist option').first().waitFor({ state: 'attached' });
  const draws = await page.evaluate(tracesDrawn, names.slice(2, 12));
  await page.goto(`${url}/w/${slug}/trace?package=${names[0]!}`);
  await page.locator('main svg rect').first().waitFor({ timeout: 120_000 });
  await page.waitForTimeout(3000);
  if (size!.name === 'L')
    await page.screenshot({ path: join(root, 'docs/screenshots/trace-1000-projects.png') });
  return [
    ...[0.5, 0.95].map((share) => ({
      what: `a page of Trace from the server, ${share * 100}% of ${times.length} packages`,
      found: `${quantile(times, share).toFixed(0)} ms`,
      atMost: '50 ms',
    })),
    ...[0.5, 1].map((share) => ({
      what: `a trace drawn after its answer, ${share * 100}% of ${draws.length}`,
      found: `${quantile(draws, share).toFixed(0)} ms`,
      atMost: '300 ms',
    })),
  ];
}

/** All offers tried as the page has them tried, some at a time; then the page. */
async function upgradeFigures(
  page: Page,
  session: Session,
  url: string,
  slug: string,
): Promise<readonly Figure[]> {
  const upgrades = `${url}/api/workspaces/${slug}/upgrades`;
  const { rows } = (await (await ask(session, upgrades)).json()) as {
    rows: { offers: { moves: object[] }[] }[];
  };
  const open = rows.flatMap(({ offers }) => offers.map(({ moves }) => ({ moves })));
  const all = open.length;
  const start = performance.now();
  const trying = async (): Promise<void> => {
    while (open.length > 0) {
      const body = { upgrades: open.splice(0, OFFERS_AT_ONCE) };
      await (await ask(session, `${upgrades}/trials`, { method: 'POST', body })).arrayBuffer();
    }
  };
  await Promise.all(Array.from({ length: REQUESTS_AT_ONCE }, trying));
  const tried = performance.now() - start;
  const opened = Date.now();
  await page.goto(`${url}/w/${slug}/upgrades`);
  await page.locator('tr[data-row]').first().waitFor();
  return [
    {
      what: `all ${all} upgrades tried, each by itself`,
      found: `${(tried / 1000).toFixed(1)} s`,
      // 3,000 of them within a minute.
      atMost: `${(all / 50).toFixed(1)} s`,
    },
    {
      what: 'Upgrades opened anew, until its first rows',
      found: `${Date.now() - opened} ms`,
      atMost: '1000 ms',
    },
  ];
}

/** Findings with the scan: of all sources, and of a commit that changes one file. */
async function scanFigures(
  session: Session,
  url: string,
  slug: string,
  repository: string,
): Promise<readonly Figure[]> {
  const count = async (): Promise<number> => {
    const start = performance.now();
    await (await ask(session, `${url}/api/workspaces/${slug}/scan`)).arrayBuffer();
    return performance.now() - start;
  };
  const cold = await count();
  const work = await mkdtemp(join(tmpdir(), 'deep-ledger-bench-'));
  const git = (...args: readonly string[]) => execa('git', args, { cwd: work });
  await git('clone', '--quiet', repository, '.');
  const { stdout } = await git('ls-files', '*.ts');
  await appendFile(join(work, stdout.split('\n')[0]!), '\nimport "one-more";\n');
  await git(
    '-c',
    'user.name=bench',
    '-c',
    'user.email=b@brindlepeak.example',
    'commit',
    '-qam',
    'x',
  );
  await git('push', '--quiet', 'origin', 'main');
  await rm(work, { recursive: true });
  await ask(session, `${url}/api/workspaces/${slug}/refresh`, { method: 'POST' });
  const warm = await count();
  return [
    {
      what: 'scan of all source files, cold',
      found: `${(cold / 1000).toFixed(1)} s`,
      atMost: '30 s',
    },
    {
      what: 'scan after a commit that changes one file',
      found: `${Math.round(warm)} ms`,
      atMost: '1000 ms',
    },
  ];
}

function table(figures: readonly Figure[]): string {
  const rows = [{ what: 'figure', found: 'found', atMost: 'at most' }, ...figures];
  const width = Math.max(...rows.map(({ what }) => what.length));
  return rows
    .map(({ what, found, atMost }) => `${what.padEnd(width)}  ${found.padStart(8)}  ${atMost}`)
    .join('\n');
}
