#!/usr/bin/env node
import fs = require('node:fs');
import path = require('node:path');
import vm = require('node:vm');

/*
 * The command is a bundle of files in the form that Node.js starts fastest, each with its compiled code beside it: to
 * compile them at each start would take a third of the time of a short command. Compiled code of another Node.js is not
 * taken; the file is then compiled as it is needed.
 */

type Compiled = (
  exports: object,
  require: (name: string) => unknown,
  module: { readonly exports: object },
  filename: string,
) => void;

const loaded = new Map<string, { readonly exports: object }>();

function load(file: string): object {
  const known = loaded.get(file);
  if (known !== undefined) return known.exports;
  const module = { exports: {} };
  loaded.set(file, module);
  const requireFrom = (name: string): unknown =>
    name.startsWith('.') ? load(path.join(file, '..', name)) : require(name);
  const code = fs.existsSync(codeOf(file)) ? fs.readFileSync(codeOf(file)) : undefined;
  const compiled = scriptOf(file, code).runInThisContext() as Compiled;
  compiled(module.exports, requireFrom, module, file);
  return module.exports;
}

/** Where the compiled code of a file lies. */
function codeOf(file: string): string {
  return `${file}.code`;
}

function scriptOf(file: string, cachedData: Buffer | undefined): vm.Script {
  const text = fs.readFileSync(file, 'utf8');
  return new vm.Script(`(function (exports, require, module, __filename) {${text}\n})`, {
    filename: file,
    ...(cachedData === undefined ? {} : { cachedData }),
  });
}

/** For who builds: leaves the compiled code of all functions of a file beside it. */
function keepCompiled(file: string): void {
  // A short command does not need it, and would take a tenth longer with it.
  const v8 = require('node:v8') as typeof import('node:v8');
  v8.setFlagsFromString('--no-lazy');
  const script = scriptOf(file, undefined);
  // Code is only taken by a Node.js with the flags under which it was kept.
  v8.setFlagsFromString('--lazy');
  const code = script.createCachedData();
  if (scriptOf(file, code).cachedDataRejected === true)
    throw new Error(`${file}: Node.js does not take the code that it has compiled.`);
  fs.writeFileSync(codeOf(file), code);
}

if (require.main === module) load(path.join(__dirname, 'bundle/deep-ledger.cjs'));

export = { keepCompiled };
