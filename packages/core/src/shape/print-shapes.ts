import { printKey, printString } from '../manifest/index.js';
import type {
  AdoptForm,
  ManifestForm,
  RegistryForm,
  RequirementForm,
  ShapesForm,
  SharedForm,
} from './shapes-form.js';

/** The text of `ledger.shapes.toml` that says this. A setting that has its usual value is left out. */
export function printShapes({ manifests, shared, adopt, registries }: ShapesForm): string {
  return [
    'format = 1\n',
    ...manifests.map(printManifest),
    ...(shared === null ? [] : [printShared(shared)]),
    ...adopt.map(printAdopt),
    ...registries.map(printRegistry),
  ].join('\n');
}

function printManifest(manifest: ManifestForm): string {
  const { files, syntax, pattern, levels, name, version, ships, requirements, kind } = manifest;
  const isLines = syntax === 'lines';
  const lines = [
    '[[manifest]]',
    `files = ${list(files)}`,
    `syntax = ${printString(syntax)}`,
    ...(isLines && pattern !== null ? [`pattern = ${literal(pattern)}`] : []),
    ...(isLines && kind !== 'runtime' ? [`kind = ${printString(kind)}`] : []),
    ...(levels === 0 ? [] : [`folder = ${levels}`]),
    ...said('name', name),
    ...said('version', version),
    ...(ships === null
      ? []
      : [`ships = { at = ${printString(ships.at)}, library = ${list(ships.library)} }`]),
    ...(isLines ? [] : requirements.flatMap(printRequirements)),
    ...printSpelling(manifest.spelling),
  ];
  return `${lines.join('\n')}\n`;
}

function printRequirements(one: RequirementForm): readonly string[] {
  const [only, second] = one.package;
  return [
    '',
    '[[manifest.requirements]]',
    `at = ${printString(one.at)}`,
    ...(only === undefined
      ? []
      : [`package = ${second === undefined ? printString(only) : list(one.package)}`]),
    ...(second === undefined ? [] : [`join = ${printString(one.join)}`]),
    ...said('range', one.range),
    ...said('when', one.when),
    ...(one.kind === 'runtime' ? [] : [`kind = ${printString(one.kind)}`]),
  ];
}

function printSpelling({
  ranges,
  versions,
  bare,
  shared,
  workspace,
}: ManifestForm['spelling']): readonly string[] {
  const lines = [
    ...(ranges === 'semver' ? [] : [`ranges = ${printString(ranges)}`]),
    ...(versions === 'semver' ? [] : [`versions = ${printString(versions)}`]),
    ...said('bare', bare),
    ...said('shared', shared),
    ...said('workspace', workspace),
  ];
  return lines.length === 0 ? [] : ['', '[manifest.spelling]', ...lines];
}

function printShared({ file, syntax, at }: SharedForm): string {
  return `[shared]\n${[...said('file', file), ...said('syntax', syntax), ...said('at', at)].join('\n')}\n`;
}

function printAdopt({ file, syntax, items, package: name, version }: AdoptForm): string {
  const lines = [
    '[[adopt]]',
    ...said('file', file),
    ...said('syntax', syntax),
    ...said('items', items),
    ...said('package', name),
    ...said('version', version),
  ];
  return `${lines.join('\n')}\n`;
}

/** One `[registry.NAME]`. */
export function printRegistry({ registry, url, integrity, ...places }: RegistryForm): string {
  const lines = [
    `[registry.${printKey(registry)}]`,
    ...Object.entries(places).flatMap(([key, text]) => said(key, text === '' ? null : text)),
    `archive = { url = ${printString(url)}, integrity = ${printString(integrity)} }`,
  ];
  return `${lines.join('\n')}\n`;
}

function said(key: string, text: string | null): readonly string[] {
  return text === null ? [] : [`${key} = ${printString(text)}`];
}

function list(texts: readonly string[]): string {
  return `[${texts.map(printString).join(', ')}]`;
}

/** Without escapes where the text allows it, so that a regular expression can be read. */
function literal(text: string): string {
  return /['\p{Cc}]/u.test(text) ? printString(text) : `'${text}'`;
}
