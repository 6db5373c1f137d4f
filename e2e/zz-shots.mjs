import { chromium } from '@playwright/test';
const base = process.env.DEEP_LEDGER_URL;
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--disable-gpu'] });
const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, baseURL: base });
const r = await context.request.post('/api/session', { data: { name: 'platform', password: 'brindlepeak demo' } });
const { csrf } = await r.json();
const page = await context.newPage();
page.on('console', m => m.type()==='error' && console.log('console', m.text()));
page.on('pageerror', e => console.log('pageerror', e.message));
for (const [name, path, wait] of JSON.parse(process.argv[2])) {
  await page.goto('/w/brindlepeak/' + path);
  await page.waitForTimeout(wait ?? 2500);
  await page.screenshot({ path: `/tmp/shot-${name}.png` });
}
await browser.close();
