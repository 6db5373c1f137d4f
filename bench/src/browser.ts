import { chromium, type Browser } from '@playwright/test';

/** Debian's browser, without a screen. */
export function openBrowser(): Promise<Browser> {
  return chromium.launch({
    executablePath: '/usr/bin/chromium-headless-shell',
    args: ['--disable-gpu', '--no-sandbox'],
  });
}
