import { composed, type Span } from '../text/index.js';
import {
  NO_VERSION,
  parseRange,
  readingOf,
  type PrereleasePolicy,
  type Range,
  type RangeReading,
  type Version,
} from '../version/index.js';
import type { ManifestProblem } from './manifest-problem.js';
import { readOwners, type OwnerLine } from './owners.js';
import { readRegistries, schemeOf, type Registries } from './registries.js';
import { readStandingOrders, type StandingOrder } from './standing-orders.js';
import { TableReader } from './table-reader.js';
import { parseToml } from './toml-document.js';

export const COPIES_POLICIES = ['any', 'one-per-major', 'one'] as const;
export type CopiesPolicy = (typeof COPIES_POLICIES)[number];

const PRERELEASE_POLICIES: readonly PrereleasePolicy[] = ['named', 'never', 'always'];

/** What may be set for the workspace and again for one package. */
export interface PackagePolicy {
  readonly copies: CopiesPolicy;
  readonly prereleases: PrereleasePolicy;
  readonly minimumAgeDays: number;
}

export const OWN_RANGES = ['reported', 'refused'] as const;
export type OwnRangesPolicy = (typeof OWN_RANGES)[number];

export interface Policy extends PackagePolicy {
  readonly peers: 'report' | 'strict';
  readonly transitiveUse: 'declared-only' | 'allowed';
  /** What is said to ranges that projects write of their own for packages that are agreed on. */
  readonly ownRanges: OwnRangesPolicy;
  /** The same by name or folder of a project, where it differs. */
  readonly ofProject: ReadonlyMap<string, OwnRangesPolicy>;
  /** SPDX identifiers that copies may be under; empty: any. */
  readonly licences: readonly string[];
  readonly ofPackage: ReadonlyMap<string, PackagePolicy>;
  /** They say how the versions of a package are written. */
  readonly registries: Registries;
}

/** How source in one language names a package. */
export interface ScanPattern {
  /** Patterns of paths from the project's folder, or of file names. */
  readonly files: readonly string[];
  /** How a line begins, with `{package}` where the name stands: `from {package} import`. */
  readonly reads: string;
}

/** What the scan of source is told. */
export interface ScanSettings {
  /** Patterns of paths, from the project's folder, that are not looked at. */
  readonly skip: readonly string[];
  readonly patterns: readonly ScanPattern[];
}

/** `ledger.toml`. */
export interface RootManifest {
  readonly name: string;
  readonly projectGlobs: readonly { readonly text: string; readonly span: Span }[];
  readonly registries: Registries;
  /** What the team's machines offer, by name: `runtime` → 20.11.0. */
  readonly platform: ReadonlyMap<string, Version>;
  readonly targets: readonly string[];
  readonly policy: Policy;
  /** The projects that `[policy.project]` names. */
  readonly policyProjects: readonly { readonly text: string; readonly span: Span }[];
  readonly scan: ScanSettings;
  readonly standing: readonly StandingOrder[];
  readonly owners: readonly OwnerLine[];
  /** What the folder of links is called into which a project's runtime looks. */
  readonly installFolder: string;
}

const EXAMPLE_NAME = '`name = "our-workspace"`';

/** Reads `ledger.toml`; null beside a problem when nothing can be made of it. */
export function readRootManifest(text: string): {
  readonly root: RootManifest | null;
  readonly problems: readonly ManifestProblem[];
} {
  const parsed = parseToml(text);
  if (!parsed.ok) {
    return {
      root: null,
      problems: [{ code: 'SYNTAX', message: parsed.message, span: parsed.span }],
    };
  }
  const problems: ManifestProblem[] = [];
  const reader = new TableReader(parsed.root, problems);
  reader.allow([
    'format',
    'name',
    'projects',
    'registry',
    'registries',
    'platform',
    'policy',
    'scan',
    'standing',
    'owners',
    'install',
  ]);
  reader.format();
  const name = reader.requiredString('name', EXAMPLE_NAME);
  const known = name === null ? null : reader.name('workspace', name.value as string, name.span);
  const projectGlobs = reader.strings('projects');
  if (!parsed.root.entries.has('projects'))
    reader.missing('projects', '`projects = ["apps/*", "libs/*"]`');
  const registries = readRegistries(reader);
  const { platform, targets } = readPlatform(reader);
  const policy = readPolicy(reader, registries ?? []);
  const scan = readScan(reader);
  const standing = readStandingOrders(reader, problems);
  const owners = readOwners(reader);
  if (known === null || registries === null || problems.some((p) => p.code === 'FORMAT_UNKNOWN')) {
    return { root: null, problems };
  }
  return {
    root: {
      name: known,
      projectGlobs,
      registries,
      platform,
      targets,
      policy,
      policyProjects: namedProjects(reader),
      scan,
      standing,
      owners,
      installFolder: readInstallFolder(reader),
    },
    problems,
  };
}

function readPlatform(root: TableReader): Pick<RootManifest, 'platform' | 'targets'> {
  const platform = new Map<string, Version>();
  const reader = root.tableAt('platform');
  if (reader === null) return { platform, targets: [] };
  for (const { key, value } of reader.table.entries.values()) {
    if (key === 'targets') continue;
    if (value.kind !== 'string') {
      reader.wrongType(key, 'a version in quotes', value);
      continue;
    }
    const version = reader.version(key, value);
    if (version !== null) platform.set(key, version);
  }
  return { platform, targets: reader.strings('targets').map(({ text }) => text) };
}

const USUAL_FOLDER = 'packages';

function readInstallFolder(root: TableReader): string {
  const reader = root.tableAt('install');
  reader?.allow(['folder']);
  const node = reader?.string('folder') ?? null;
  if (node === null) return USUAL_FOLDER;
  const text = node.value as string;
  if (/^(?!\.{1,2}$)[A-Za-z0-9._-]{1,100}$/.test(text)) return text;
  root.problems.push({
    code: 'QUERY_INVALID',
    key: 'folder',
    message: 'Write the name of one folder, of letters, digits, ".", "_" and "-".',
    span: node.span,
  });
  return USUAL_FOLDER;
}

const PLACE_OF_NAME = '{package}';

function readScan(root: TableReader): ScanSettings {
  const reader = root.tableAt('scan');
  if (reader === null) return { skip: [], patterns: [] };
  reader.allow(['skip', 'patterns']);
  const patterns = reader.tablesAt('patterns').flatMap((one): ScanPattern[] => {
    one.allow(['files', 'reads']);
    const files = one.strings('files').map(({ text }) => text);
    if (!one.table.entries.has('files')) one.missing('files', '`files = ["*.py"]`');
    const reads = one.requiredString('reads', `\`reads = "import ${PLACE_OF_NAME}"\``);
    if (reads === null) return [];
    const text = reads.value as string;
    if (text.split(PLACE_OF_NAME).length === 2) return [{ files, reads: text }];
    one.missing(PLACE_OF_NAME, `once in \`reads\`, as in \`reads = "import ${PLACE_OF_NAME}"\``);
    return [];
  });
  return { skip: reader.strings('skip').map(({ text }) => text), patterns };
}

const PACKAGE_KEYS = ['copies', 'prereleases', 'minimum-age-days'];

function readPackagePolicy(reader: TableReader, otherwise: PackagePolicy): PackagePolicy {
  return {
    copies: reader.choice('copies', COPIES_POLICIES, otherwise.copies),
    prereleases: reader.choice('prereleases', PRERELEASE_POLICIES, otherwise.prereleases),
    minimumAgeDays: reader.wholeNumber('minimum-age-days', otherwise.minimumAgeDays),
  };
}

function readPolicy(root: TableReader, registries: Registries): Policy {
  const base: PackagePolicy = { copies: 'any', prereleases: 'named', minimumAgeDays: 0 };
  const reader = root.tableAt('policy');
  if (reader === null) {
    return {
      ...base,
      peers: 'report',
      transitiveUse: 'declared-only',
      ownRanges: 'reported',
      ofProject: new Map(),
      licences: [],
      ofPackage: new Map(),
      registries,
    };
  }
  reader.allow([
    ...PACKAGE_KEYS,
    'peers',
    'transitive-use',
    'own-ranges',
    'licences',
    'package',
    'project',
  ]);
  const ofProject = new Map<string, OwnRangesPolicy>();
  const projects = reader.tableAt('project');
  for (const key of projects?.table.entries.keys() ?? []) {
    const one = projects!.tableAt(key);
    one?.allow(['own-ranges']);
    if (one !== null)
      ofProject.set(composed(key), one.choice('own-ranges', OWN_RANGES, 'reported'));
  }
  const all = readPackagePolicy(reader, base);
  const ofPackage = new Map<string, PackagePolicy>();
  const packages = reader.tableAt('package');
  for (const { key, keySpan } of packages?.table.entries.values() ?? []) {
    const one = packages!.tableAt(key);
    if (one === null || reader.name('package', key, keySpan) === null) continue;
    one.allow(PACKAGE_KEYS);
    ofPackage.set(key, readPackagePolicy(one, all));
  }
  return {
    ...all,
    peers: reader.choice('peers', ['report', 'strict'], 'report'),
    transitiveUse: reader.choice('transitive-use', ['declared-only', 'allowed'], 'declared-only'),
    ownRanges: reader.choice('own-ranges', OWN_RANGES, 'reported'),
    ofProject,
    licences: reader.strings('licences').map(({ text }) => text),
    ofPackage,
    registries,
  };
}

function namedProjects(root: TableReader): RootManifest['policyProjects'] {
  const policy = root.table.entries.get('policy')?.value;
  const projects = policy?.kind === 'table' ? policy.entries.get('project')?.value : undefined;
  if (projects?.kind !== 'table') return [];
  return [...projects.entries.values()].map(({ key, keySpan }) => ({
    text: composed(key),
    span: keySpan,
  }));
}

export function policyOf(policy: Policy, packageName: string): PackagePolicy {
  return policy.ofPackage.get(packageName) ?? policy;
}

/** How ranges of a package are read: over the versions that its registry writes, under its policy on prereleases. */
export function readingFor(policy: Policy, packageName: string): RangeReading {
  return readingOf(
    schemeOf(policy.registries, packageName),
    policyOf(policy, packageName).prereleases,
  );
}

/** A range of one package. A text that is no range over the versions of its registry admits none of them. */
export function rangeFor(policy: Policy, packageName: string, text: string): Range {
  const parsed = parseRange(text, readingFor(policy, packageName));
  return parsed.ok ? parsed.value : NO_VERSION;
}
