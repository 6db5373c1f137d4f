import { chromium } from '@playwright/test';
const [url, ...names] = process.argv.slice(2);
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
p.on('console', (m) => m.type() === 'error' && console.log('console', m.text().slice(0, 300)));
p.on('pageerror', (e) => console.log('pageerror', e.message));
for (const spec of names) {
  const [n, path, wait] = spec.split('|');
  await p.goto(url + '/w/brindlepeak/' + path);
  if (wait) await p.waitForTimeout(Number(wait)); else await p.waitForTimeout(2500);
  await p.evaluate(() => document.fonts.ready);
  await p.screenshot({ path: `/tmp/shots/${n}.png` });
}
await b.close();
