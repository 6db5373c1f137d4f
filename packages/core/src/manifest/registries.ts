import { isName, type Span } from '../text/index.js';
import { VERSION_SCHEMES, type VersionScheme } from '../version/index.js';
import type { TableReader } from './table-reader.js';

/** A registry of the workspace with the names that are asked of it. */
export interface RegistryLine {
  readonly name: string;
  /** `*` stands for any characters, `/` among them. */
  readonly patterns: readonly string[];
  /** How it writes versions. */
  readonly versions: VersionScheme;
}

/** Registries in their order: the first with a pattern that matches a name is the only one that is asked for it. */
export type Registries = readonly RegistryLine[];

/** All names are asked of the one registry. */
export function onlyRegistry(name: string): Registries {
  return [{ name, patterns: ['*'], versions: 'semver' }];
}

/** The name of the registry that a package comes from; null: no pattern matches. O(patterns x length). */
export function registryOf(registries: Registries, packageName: string): string | null {
  return lineOf(registries, packageName)?.name ?? null;
}

function lineOf(registries: Registries, packageName: string): RegistryLine | undefined {
  return registries.find(({ patterns }) =>
    patterns.some((pattern) => matchesName(pattern, packageName)),
  );
}

/** How a registry writes versions; SemVer, where the workspace has none of that name. */
export function schemeOfRegistry(registries: Registries, registry: string): VersionScheme {
  return registries.find(({ name }) => name === registry)?.versions ?? 'semver';
}

/** Those of the packages that a registry offers which belong to it; the others are not believed. */
export function believedOf<T extends { readonly name: string }>(
  registries: Registries,
  registry: string,
  offered: readonly T[],
): readonly T[] {
  return offered.filter(({ name }) => registryOf(registries, name) === registry);
}

/** How the versions of a package are written; SemVer, where no registry has it. O(patterns x length), O(1) if all are SemVer. */
export function schemeOf(registries: Registries, packageName: string): VersionScheme {
  if (registries.every(({ versions }) => versions === 'semver')) return 'semver';
  return lineOf(registries, packageName)?.versions ?? 'semver';
}

/** Each part between stars is found at the first place where it can stand, so that no star is tried twice. */
function matchesName(pattern: string, name: string): boolean {
  if (pattern === '*') return true;
  const [first = '', ...rest] = pattern.split('*');
  const last = rest.pop();
  if (last === undefined) return name === pattern;
  if (!name.startsWith(first)) return false;
  let at = first.length;
  for (const part of rest) {
    const found = name.indexOf(part, at);
    if (found < 0) return false;
    at = found + part.length;
  }
  return name.length - last.length >= at && name.endsWith(last);
}

const EXAMPLE = '`registry = "main"`';

/** Reads `registry` or `[registries]`; null, with a problem, where neither says anything that can be used. */
export function readRegistries(reader: TableReader): Registries | null {
  const short = reader.table.entries.get('registry');
  const table = reader.tableAt('registries');
  if (table === null) {
    if (short === undefined && reader.table.entries.has('registries')) return null;
    const node = reader.requiredString('registry', EXAMPLE);
    return node === null || !isGood(reader, node.value as string, node.span)
      ? null
      : onlyRegistry(node.value as string);
  }
  if (short !== undefined) {
    reader.problems.push({ code: 'REGISTRY_TWICE', span: short.keySpan });
    return null;
  }
  if (table.table.entries.size === 0) {
    reader.missing('registries', '`main = ["*"]` below `[registries]`');
    return null;
  }
  return [...table.table.entries.values()].flatMap(({ key, keySpan, value }) => {
    if (!isGood(table, key, keySpan)) return [];
    const line = value.kind === 'table' ? table.tableAt(key) : null;
    line?.allow(['names', 'versions']);
    const patterns = (line?.strings('names') ?? table.strings(key)).map(({ text }) => text);
    const versions = line?.choice('versions', VERSION_SCHEMES, 'semver') ?? 'semver';
    if (patterns.length === 0 && (line !== null || value.kind === 'array'))
      table.missing(key, `a pattern of package names, as in \`${key} = ["*"]\``);
    return [{ name: key, patterns, versions }];
  });
}

/** A registry's name is a part of the lockfile and of addresses: a name without `/`. */
function isGood(reader: TableReader, name: string, span: Span): boolean {
  if (isName(name) && !name.includes('/')) return true;
  reader.problems.push({ code: 'NAME_INVALID', what: 'registry', found: name, span });
  return false;
}
