import { printKey, printString, type Registries, type RegistryLine } from '../manifest/index.js';

/** The text of a first `ledger.toml`: all its projects are those that shapes describe. */
export function rootText(name: string, registries: Registries): string {
  const [only, second] = registries;
  const isShort =
    second === undefined && only?.patterns.join() === '*' && only.versions === 'semver';
  const lines = isShort
    ? [`registry = ${printString(only.name)}`]
    : ['', '[registries]', ...registries.map((one) => `${printKey(one.name)} = ${lineText(one)}`)];
  return `${['format = 1', `name = ${printString(name)}`, 'projects = []', ...lines].join('\n')}\n`;
}

function lineText({ patterns, versions }: RegistryLine): string {
  const names = `[${patterns.map(printString).join(', ')}]`;
  return versions === 'semver'
    ? names
    : `{ names = ${names}, versions = ${printString(versions)} }`;
}
