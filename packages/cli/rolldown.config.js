import { basename, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { defineConfig } from 'rolldown';
import start from './dist/start.cjs';

const common = {
  platform: 'node',
  // Most of the time goes into what is compiled ahead.
  checks: { bundlerTimings: false },
  // Modules are put together into few files; what is written in the older form finds its parts only where it lies.
  resolve: { mainFields: ['module', 'main'] },
};

/** What reads the files of other layouts: half of what a command would read to begin, and needed where `ledger.shapes.toml` is. */
const LATE = [
  'query',
  'syntax/json-syntax',
  'syntax/lines-syntax',
  'syntax/xml-syntax',
  'syntax/yaml-syntax',
].map((name) => fileURLToPath(import.meta.resolve(`../core/dist/shape/${name}.js`)));

const nameOf = (path) => basename(path, '.js');

/** Puts something small in the place of each of those, which reads it when it is first used. */
const readLate = {
  name: 'read-late',
  async load(id) {
    if (!LATE.includes(id)) return null;
    const exports = Object.entries(await import(pathToFileURL(id).href)).map(([name, value]) => {
      if (typeof value === 'number') return `export const ${name} = ${value};`;
      if (typeof value === 'function')
        return `export const ${name} = (...given) => part().${name}(...given);`;
      if (typeof value !== 'object') throw new Error(`${name} of ${id} cannot be read late`);
      const keys = Object.keys(value).map(
        (key) => `get ${key}() { return part().${name}.${key}; }`,
      );
      return `export const ${name} = { ${keys.join(', ')} };`;
    });
    return `import { createRequire } from 'node:module';
const require = createRequire(import.meta.url);
const part = () => require('../late/${nameOf(id)}.cjs');
${exports.join('\n')}`;
  },
};

/** Compiles all of a bundle ahead: to compile it again at each start would be a third of what a short command takes. */
const compileAhead = {
  name: 'compile-ahead',
  writeBundle({ dir }, bundle) {
    for (const { fileName, type } of Object.values(bundle))
      if (type === 'chunk') start.keepCompiled(join(dir, fileName));
  },
};

/** The command in few files, so that it starts fast; what only some commands need stays apart. */
export default defineConfig([
  {
    ...common,
    input: { 'deep-ledger': 'dist/main.js' },
    plugins: [readLate, compileAhead],
    output: {
      dir: 'dist/bundle',
      format: 'cjs',
      cleanDir: true,
      entryFileNames: '[name].cjs',
      chunkFileNames: '[name]-[hash].cjs',
    },
  },
  {
    ...common,
    input: Object.fromEntries(LATE.map((path) => [nameOf(path), path])),
    output: {
      dir: 'dist/late',
      format: 'cjs',
      cleanDir: true,
      entryFileNames: '[name].cjs',
      chunkFileNames: '[name]-[hash].cjs',
    },
  },
]);
