import { printKey, printString, type Registries } from '../manifest/index.js';

/** The text of a first `ledger.toml`: all its projects are those that shapes describe. */
export function rootText(name: string, registries: Registries): string {
  const [only, second] = registries;
  const isShort = second === undefined && only?.patterns.join() === '*';
  const lines = isShort
    ? [`registry = ${printString(only.name)}`]
    : [
        '',
        '[registries]',
        ...registries.map(
          (one) => `${printKey(one.name)} = [${one.patterns.map(printString).join(', ')}]`,
        ),
      ];
  return `${['format = 1', `name = ${printString(name)}`, 'projects = []', ...lines].join('\n')}\n`;
}
