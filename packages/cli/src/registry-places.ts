import { readFile, stat } from 'node:fs/promises';
import { homedir } from 'node:os';
import { join } from 'node:path';
import {
  lineStarts,
  manifestProblemMessage,
  placeAt,
  positionAt,
  readRegistryPlaces,
  RegistryError,
  type Registries,
  type RegistryPlace,
} from '@deep-ledger/core';
import { UnreadableFile } from './unreadable-file.js';

type Env = Readonly<Record<string, string | undefined>>;

/** A user's own file of registries, as the XDG base directory specification has it. */
export function registriesFile(env: Env): string {
  const base = env['XDG_CONFIG_HOME'];
  const folder = base?.startsWith('/') ? base : join(homedir(), '.config');
  return join(folder, 'deep-ledger', 'registries.toml');
}

/**
 * Where the registries of a workspace are: as options say, else as variables of the environment do, else as the user's
 * file does. A registry of which nobody says it is left out.
 * @param given `PLACE` where the workspace has one registry, or `NAME=PLACE`
 * @param tell gets a sentence where the file's secrets lie open
 * @throws UnreadableFile when the file is wrong, RegistryError when it is open which registry is meant
 */
export async function registryPlaces(
  registries: Registries,
  given: readonly string[],
  env: Env,
  tell: (sentence: string) => void,
): Promise<ReadonlyMap<string, RegistryPlace>> {
  const ofFile = await placesInFile(registriesFile(env), tell);
  const ofOptions = new Map(given.map((text) => namedPlace(registries, text)));
  const places = new Map<string, RegistryPlace>();
  for (const { name } of registries) {
    const suffix = name.toUpperCase().replace(/[^A-Z0-9]/g, '_');
    const address = ofOptions.get(name) ?? env[`DEEP_LEDGER_REGISTRY_${suffix}`];
    const token = env[`DEEP_LEDGER_TOKEN_${suffix}`];
    const known = ofFile.get(name);
    // Other settings in the file belong to the address that it names.
    const base = address === undefined || address === known?.address ? known : placeAt(address);
    if (base !== undefined) places.set(name, token === undefined ? base : { ...base, token });
  }
  return places;
}

function namedPlace(registries: Registries, text: string): readonly [string, string] {
  const [only, other] = registries;
  const named = registries.find(({ name }) => text.startsWith(`${name}=`));
  if (named !== undefined) return [named.name, text.slice(named.name.length + 1)];
  if (only !== undefined && other === undefined) return [only.name, text];
  const names = registries.map(({ name }) => name);
  throw new RegistryError(
    'REGISTRY_NONSENSE',
    `The workspace has the registries ${names.join(', ')}; "${text}" does not say for which it is meant. Write --registry ${names[0]}=${text}.`,
  );
}

async function placesInFile(
  file: string,
  tell: (sentence: string) => void,
): Promise<ReadonlyMap<string, RegistryPlace>> {
  const text = await readFile(file, 'utf8').catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });
  if (text === null) return new Map();
  const { places, problems } = readRegistryPlaces(text);
  if (problems.length > 0) {
    const starts = lineStarts(text);
    const said = problems.map((problem) => {
      const { line, column } = positionAt(starts, problem.span[0]);
      return `${file}:${line}:${column}: ${manifestProblemMessage(problem)}`;
    });
    throw new UnreadableFile(said.join('\n'));
  }
  const hasSecrets = [...places.values()].some(({ token, password }) => token ?? password);
  if (hasSecrets && ((await stat(file)).mode & 0o077) !== 0)
    tell(`${file} holds credentials that others on this machine may read. Run chmod 600 ${file}.`);
  return places;
}
