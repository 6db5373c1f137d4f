import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { Plugin } from 'vitest/config';

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

/**
 * Has the tests of a package import it as it was built: what is tested is what runs, Node.js reads it by itself, and a call
 * from file to file is a call.
 * @throws where it is not built, or a source has changed since
 */
export function asBuilt(folder: string): Plugin {
  const builtOf = (source: string): string =>
    join(folder, 'dist', source.slice(join(folder, 'src').length)).replace(/\.tsx?$/, '.js');
  const build = statSync(join(folder, 'tsconfig.tsbuildinfo'), { throwIfNoEntry: false });
  if (build === undefined) throw new Error(`${folder} is not built yet. Run: npm run build:types`);
  const paths = readdirSync(join(folder, 'src'), { recursive: true, encoding: 'utf8' });
  for (const source of paths.map((path) => join(folder, 'src', path)))
    if (
      /\.tsx?$/.test(source) &&
      existsSync(builtOf(source)) &&
      statSync(source).mtimeMs > build.mtimeMs
    )
      throw new Error(`${source} has changed since it was built. Run: npm run build:types`);
  return {
    name: 'as-built',
    enforce: 'pre',
    resolveId(wanted, importer) {
      if (!wanted.startsWith('.') || importer?.startsWith(join(folder, 'src')) !== true)
        return null;
      const built = builtOf(join(dirname(importer), wanted));
      return existsSync(built) ? built : null;
    },
  };
}
