/** What the tests of all packages have in common. */
export const COMMON = {
  include: ['src/**/*.test.{ts,tsx}'],
  environment: 'node',
  // Few processes for all files: none keeps anything for itself, and loading the program takes long.
  isolate: false,
  // Other packages are taken as they are built: Node.js reads them by itself, and nothing is translated once more.
  server: { deps: { external: [/\/dist\//] } },
  execArgv: [
    // What tests make is thrown away at once: with more room for what is new, less time goes into clearing it away.
    '--max-semi-space-size=128',
    // Many functions run for a moment: six times the calls before one is compiled for good, as it takes a fifth of the time.
    '--interrupt-budget=400000',
  ],
  // Far more than any takes, also on a machine that others use; random properties that are tried more often take longer.
  testTimeout: 300_000 * Math.max(1, Number(process.env['RUNS'] ?? 0) / 300),
  hookTimeout: 300_000,
};
