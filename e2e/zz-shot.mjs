import { chromium } from '@playwright/test';
const base = 'http://127.0.0.1:4655/w/brindlepeak/';
const b = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu'],
});
const p = await b.newPage({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
p.on('console', (m) => m.type() === 'error' && console.log('console:', m.text()));
p.on('pageerror', (e) => console.log('pageerror:', e.message));
for (const spec of process.argv.slice(2)) {
  const [name, path, wait] = spec.split('|');
  await p.goto(base + path);
  if (wait)
    await p
      .getByText(wait)
      .first()
      .waitFor({ timeout: 15000 })
      .catch((e) => console.log('no', wait));
  await p.evaluate(() => document.fonts.ready);
  await p.waitForTimeout(500);
  await p.screenshot({ path: `/tmp/shots/${name}.png` });
}
await b.close();
