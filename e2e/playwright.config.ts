import { defineConfig } from '@playwright/test';

const report = process.env['PLAYWRIGHT_JSON_OUTPUT_FILE'];

/** Of several lists Chromium heeds the last, so Playwright's own is said again. */
const DISABLED_FEATURES = [
  ...['AvoidUnnecessaryBeforeUnloadCheckSync', 'DestroyProfileOnBrowserClose', 'HttpsUpgrades'],
  ...['HttpsFirstBalancedModeAutoEnable', 'LensOverlay', 'MediaRouter', 'PaintHolding'],
  ...['ThirdPartyStoragePartitioning', 'AvoidCorsURLLoaderRestartOnRedirect', 'OptimizationHints'],
  ...['NetworkTimeServiceQuerying', 'AimEnabled', 'PreconnectToSearch'],
  // The list below the address bar is two pages more in each window: a second of work for each test, and nobody sees them.
  ...['WebUIOmniboxPopup', 'WebUIOmniboxAimPopup', 'WebUIOmniboxFullPopup'],
];

export default defineConfig({
  testDir: 'src',
  outputDir: '../.local/test/playwright',
  workers: 2,
  timeout: 300_000,
  // A machine that others use too may be several times slower for a while.
  expect: { timeout: 90_000 },
  forbidOnly: process.env['CI'] !== undefined,
  reporter: [
    ['list'],
    ...(report === undefined ? [] : ([['json', { outputFile: report }]] as const)),
  ],
  use: {
    baseURL: process.env['DEEP_LEDGER_URL'] ?? 'http://127.0.0.1:4600',
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'UTC',
    // Recording a trace takes a fifth of the time; `--trace on` records one of a test that is looked into.
    trace: 'off',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
      args: [
        '--disable-gpu',
        '--disable-quic',
        `--disable-features=${DISABLED_FEATURES.join()}`,
        '--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost',
      ],
    },
  },
  projects: [
    { name: 'e2e', testMatch: '*.spec.ts' },
    { name: 'screenshots', testMatch: 'screenshots.ts' },
  ],
});
