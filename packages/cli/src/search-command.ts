import {
  AnswerIndex,
  believedOf,
  loadPackages,
  nearestWord,
  RegistryError,
  releaseTermsOf,
  ReleaseTerms,
  unusableWords,
  type FoundPackage,
} from '@deep-ledger/core';
import { searchRegistry } from '@deep-ledger/registry-client';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import { loadBase, type BaseOptions } from './load-base.js';
import type { Output } from './output.js';
import { registryPlaces } from './registry-places.js';
import { registrySource } from './registry-source.js';
import { tableWords } from './table-words.js';
import { readWorkTree } from './work-tree.js';
import { usableWorkspace } from './usable-workspace.js';

export interface SearchOptions extends BaseOptions {
  readonly json?: true;
}

/** Looks for packages in all registries of the workspace. @returns the exit code: 1 where nothing is found */
export async function searchCommand(
  words: readonly string[],
  options: SearchOptions,
  output: Output,
): Promise<number> {
  const files = await readWorkTree(options.in, output.complain);
  const workspace = usableWorkspace(files, output);
  if (workspace === null) return EXIT.unreadable;
  const { registries, shapes } = workspace;
  const places = await registryPlaces(
    registries,
    options.registry ?? [],
    process.env,
    output.complain,
  );
  const found: (FoundPackage & { readonly registry: string })[] = [];
  let failures = 0;
  for (const { name: registry, versions } of registries) {
    const place = places.get(registry);
    const shape = shapes.registries.get(registry);
    try {
      if (place === undefined)
        throw new RegistryError('REGISTRY_DOWN', `Nothing says where the registry ${registry} is.`);
      output.progress(`asking ${registry}`);
      const settings = { versions, ...(shape === undefined ? {} : { shape }) };
      const { packages } = await searchRegistry(place, words.join(' '), settings);
      for (const one of believedOf(registries, registry, packages))
        found.push({ ...one, registry });
    } catch (error) {
      if (!(error instanceof RegistryError)) throw error;
      failures += 1;
      output.complain(`${registry}: ${error.message}`);
    }
  }
  output.progress(null);
  if (options.json) output.say(JSON.stringify({ format: 1, packages: found }));
  else if (found.length === 0) output.say('No package has these words.');
  else
    for (const line of tableWords([
      ['package', 'newest', 'of', 'licence', 'what it is'],
      ...found.map((one) => [
        one.name,
        one.newest ?? '-',
        one.published ?? '-',
        one.licence ?? '-',
        one.summary,
      ]),
    ]))
      output.say(line);
  if (failures === registries.length) return EXIT.unreadable;
  return found.length === 0 ? EXIT.stale : EXIT.ok;
}

const MOST_SHOWN = 20;

/** Tells of a package: its releases, which of them can be used, and who requires it. @returns the exit code */
export async function showCommand(
  name: string,
  options: SearchOptions,
  output: Output,
): Promise<number> {
  output.progress('reading manifests and registry');
  const base = await loadBase(options, output);
  const { workspace, lock } = base;
  if (workspace === null) {
    output.progress(null);
    return usableWorkspace(base.files, output) === null ? EXIT.unreadable : EXIT.ok;
  }
  const source = await registrySource(options, workspace, output.complain);
  const record = base.records.get(name) ?? (await loadPackages([name], source)).get(name) ?? null;
  output.progress(null);
  if (record === null) {
    const near = nearestWord(name, [...base.records.keys()]);
    output.complain(
      `The registry has no package ${name}.${near === null ? '' : ` Did you mean ${near}?`}`,
    );
    return EXIT.stale;
  }
  if (options.json) {
    output.say(JSON.stringify({ format: 1, ...record }));
    return EXIT.ok;
  }
  const terms = new ReleaseTerms(releaseTermsOf(workspace), base.today);
  const used = new Set(new AnswerIndex(lock?.resolution ?? null, name).copiesOf(name));
  const requiring = workspace.projects.filter(({ requirements }) =>
    requirements.some((one) => one.name === name),
  );
  output.say(`${name}: ${record.summary === '' ? 'no summary' : record.summary}`);
  output.say(
    `${count(record.releases.length, 'release')}; ${requiring.length === 0 ? 'no project requires it' : `required by ${requiring.map((one) => one.name).join(', ')}`}.`,
  );
  const releases = [...record.releases].reverse();
  const rows = releases.slice(0, MOST_SHOWN).map((release) => {
    const [reason] = terms.reasons(name, release);
    return [
      release.text,
      release.published.slice(0, 10),
      release.licence ?? '-',
      [
        ...(used.has(release.text) ? ['in use'] : []),
        ...(release.deprecated === null ? [] : [`deprecated: ${release.deprecated}`]),
        ...(reason === undefined ? [] : [unusableWords(reason)]),
      ].join('; '),
    ];
  });
  for (const line of tableWords([['release', 'of', 'licence', ''], ...rows])) output.say(line);
  if (releases.length > MOST_SHOWN) output.say(`and ${releases.length - MOST_SHOWN} older ones`);
  return EXIT.ok;
}
