import { VERSION_SCHEMES } from '../version/index.js';
import {
  parseToml,
  REQUIREMENT_KINDS,
  TableReader,
  type ManifestProblem,
} from '../manifest/index.js';
import type { Span } from '../text/index.js';
import { readQuery, type Query } from './query.js';
import {
  type AdoptShape,
  type ManifestShape,
  type RequirementShape,
  type Shapes,
  type SharedShape,
} from './shape.js';
import { readReleaseQuery, type RegistryShape, type ReleaseQuery } from './registry-shape.js';
import { PLAIN_SPELLING, type Spelling } from './spelling.js';
import {
  JSON_SYNTAX,
  linePattern,
  linesSyntax,
  TOML_SYNTAX,
  XML_SYNTAX,
  YAML_SYNTAX,
  type Syntax,
} from './syntax/index.js';

export const SYNTAX_NAMES = ['toml', 'json', 'yaml', 'xml', 'lines'] as const;
export type SyntaxName = (typeof SYNTAX_NAMES)[number];

const SYNTAXES: Readonly<Record<Exclude<SyntaxName, 'lines'>, Syntax>> = {
  toml: TOML_SYNTAX,
  json: JSON_SYNTAX,
  yaml: YAML_SYNTAX,
  xml: XML_SYNTAX,
};

export interface ShapesReading {
  /** Null: nothing can be made of the file. */
  readonly shapes: Shapes | null;
  readonly problems: readonly ManifestProblem[];
}

/** Reads `ledger.shapes.toml`. A shape that is wrong is left out and reported, the others stay. O(length). */
export function readShapes(text: string): ShapesReading {
  const parsed = parseToml(text);
  if (!parsed.ok) {
    const { message, span } = parsed;
    return { shapes: null, problems: [{ code: 'SYNTAX', message, span }] };
  }
  const problems: ManifestProblem[] = [];
  const reader = new TableReader(parsed.root, problems);
  reader.allow(['format', 'readable', 'manifest', 'shared', 'adopt', 'registry']);
  reader.format();
  if (problems.some(({ code }) => code === 'FORMAT_UNKNOWN')) return { shapes: null, problems };
  const isStrict = reader.choice('readable', ['lenient', 'strict'], 'lenient') === 'strict';
  const manifests = reader.tablesAt('manifest').flatMap((one) => readManifest(one) ?? []);
  const shared = reader.tableAt('shared');
  return {
    shapes: {
      manifests,
      shared: shared === null ? null : readShared(shared),
      adopt: reader.tablesAt('adopt').flatMap((one) => readAdopt(one) ?? []),
      registries: readRegistryShapes(reader.tableAt('registry')),
      isStrict,
    },
    problems,
  };
}

const MANIFEST_KEYS = [
  'files',
  'syntax',
  'pattern',
  'folder',
  'name',
  'version',
  'ships',
  'requirements',
  'spelling',
  'kind',
];

function readManifest(reader: TableReader): ManifestShape | null {
  reader.allow(MANIFEST_KEYS);
  const files = reader.strings('files').map(({ text }) => text);
  if (!reader.table.entries.has('files')) reader.missing('files', '`files = ["*/app.yaml"]`');
  const syntax = readSyntax(reader);
  const spelling = readSpelling(reader.tableAt('spelling'));
  const isLines =
    reader.table.entries.get('syntax')?.value.kind === 'string' &&
    reader.string('syntax')!.value === 'lines';
  const requirements = isLines
    ? [linesBlock(reader)]
    : reader.tablesAt('requirements').flatMap((one) => readRequirements(one) ?? []);
  if (!isLines && !reader.table.entries.has('requirements'))
    reader.missing('requirements', '`[[manifest.requirements]]` with `at = "$.libraries"`');
  if (syntax === null || files.length === 0) return null;
  return {
    files,
    syntax,
    levels: reader.wholeNumber('folder', 0),
    name: query(reader, 'name'),
    version: query(reader, 'version'),
    ships: readShips(reader.tableAt('ships')),
    requirements,
    spelling,
    span: reader.table.span,
  };
}

function readSyntax(reader: TableReader): Syntax | null {
  if (reader.requiredString('syntax', '`syntax = "yaml"`') === null) return null;
  const name = reader.choice<SyntaxName | ''>('syntax', SYNTAX_NAMES, '');
  if (name === '') return null;
  if (name !== 'lines') return SYNTAXES[name];
  const node = reader.requiredString(
    'pattern',
    "`pattern = '^use (?P<package>\\S+) (?P<range>.+)$'`",
  );
  if (node === null) return null;
  const pattern = linePattern(node.value as string);
  if (pattern.ok) return linesSyntax(pattern.pattern);
  invalid(reader, 'pattern', pattern.message, node.span);
  return null;
}

function linesBlock(reader: TableReader): RequirementShape {
  const of = (text: string): Query => {
    const reading = readQuery(text);
    if (!reading.ok) throw new Error(reading.message);
    return reading.query;
  };
  return {
    kind: reader.choice('kind', REQUIREMENT_KINDS, 'runtime'),
    at: of('$[*]'),
    package: [of('$.package')],
    join: '',
    range: of('$.range'),
    when: null,
  };
}

function readRequirements(reader: TableReader): RequirementShape | null {
  reader.allow(['at', 'kind', 'package', 'join', 'range', 'when']);
  if (!reader.table.entries.has('at')) reader.missing('at', '`at = "$.libraries"`');
  const at = query(reader, 'at');
  const names = queries(reader, 'package');
  const join = reader.string('join')?.value as string | undefined;
  if (names.length > 1 && join === undefined) reader.missing('join', '`join = ":"`');
  if (at === null) return null;
  return {
    kind: reader.choice('kind', REQUIREMENT_KINDS, 'runtime'),
    at,
    package: names,
    join: join ?? '',
    range: query(reader, 'range'),
    when: query(reader, 'when'),
  };
}

function readShips(reader: TableReader | null): ManifestShape['ships'] {
  if (reader === null) return null;
  reader.allow(['at', 'library']);
  const at = query(reader, 'at');
  const library = reader.strings('library').map(({ text }) => text);
  return at === null ? null : { at, library };
}

function readSpelling(reader: TableReader | null): Spelling {
  if (reader === null) return PLAIN_SPELLING;
  reader.allow(['ranges', 'versions', 'bare', 'shared', 'workspace']);
  const of = (key: string): string | null =>
    (reader.string(key)?.value as string | undefined) ?? null;
  const bare = reader.choice('bare', ['exact', 'at-least', 'caret', 'as-range'], 'as-range');
  return {
    ranges: reader.choice('ranges', ['semver', 'interval', 'vers'], 'semver'),
    versions: reader.choice('versions', VERSION_SCHEMES, 'semver'),
    bare: bare === 'as-range' ? null : bare,
    shared: of('shared'),
    workspace: of('workspace'),
  };
}

function readShared(reader: TableReader): SharedShape | null {
  reader.allow(['file', 'syntax', 'at', 'spelling']);
  const file = reader.requiredString('file', '`file = "versions.json"`');
  if (!reader.table.entries.has('at')) reader.missing('at', '`at = "$.agreed"`');
  const at = query(reader, 'at');
  const syntax = readGrammar(reader);
  if (file === null || at === null || syntax === null) return null;
  return {
    file: file.value as string,
    syntax,
    at,
    spelling: readSpelling(reader.tableAt('spelling')),
    span: reader.table.span,
  };
}

/** A syntax with a grammar, in which values stand at places. */
function readGrammar(reader: TableReader): Syntax | null {
  if (reader.requiredString('syntax', '`syntax = "json"`') === null) return null;
  const name = reader.choice<SyntaxName | ''>('syntax', ['toml', 'json', 'yaml', 'xml'], '');
  return name === '' || name === 'lines' ? null : SYNTAXES[name];
}

function readAdopt(reader: TableReader): AdoptShape | null {
  reader.allow(['file', 'syntax', 'items', 'package', 'version']);
  const file = reader.requiredString('file', '`file = "frozen.json"`');
  if (!reader.table.entries.has('items')) reader.missing('items', '`items = "$.set[*]"`');
  const items = query(reader, 'items');
  const syntax = readGrammar(reader);
  if (file === null || items === null || syntax === null) return null;
  return {
    file: file.value as string,
    syntax,
    items,
    package: query(reader, 'package'),
    version: query(reader, 'version'),
    span: reader.table.span,
  };
}

function readRegistryShapes(reader: TableReader | null): ReadonlyMap<string, RegistryShape> {
  const shapes = new Map<string, RegistryShape>();
  for (const name of reader?.table.entries.keys() ?? []) {
    const one = reader!.tableAt(name);
    const shape = one === null ? null : readRegistryShape(one);
    if (shape !== null) shapes.set(name, shape);
  }
  return shapes;
}

function readRegistryShape(reader: TableReader): RegistryShape | null {
  reader.allow([
    'document',
    'releases',
    'version',
    'published',
    'licence',
    'needs',
    'optional',
    'deprecated',
    'archive',
  ]);
  const document = reader.requiredString('document', '`document = "/p/{+name}"`');
  if (!reader.table.entries.has('releases')) reader.missing('releases', '`releases = "$.all.*"`');
  const releases = query(reader, 'releases');
  const archive = reader.tableAt('archive');
  if (!reader.table.entries.has('archive'))
    reader.missing('archive', '`archive = { url = "$.file.url", integrity = "$.file.sum" }`');
  archive?.allow(['url', 'integrity']);
  const [url, integrity] =
    archive === null ? [null, null] : [ofRelease(archive, 'url'), ofRelease(archive, 'integrity')];
  for (const key of ['url', 'integrity'])
    if (archive !== null && !archive.table.entries.has(key))
      archive.missing(key, `\`${key} = "$.${key}"\``);
  const of = (key: string): ReleaseQuery | null => ofRelease(reader, key);
  if (document === null || releases === null || url === null || integrity === null) return null;
  const path = document.value as string;
  if (!/^\/[^\s]*$/.test(path) || !/\{\+?name\}/.test(path)) {
    invalid(reader, 'document', `"${path}" is no path with {name} in it.`, document.span);
    return null;
  }
  return {
    document: path,
    releases,
    version: of('version'),
    published: of('published'),
    licence: of('licence'),
    needs: of('needs'),
    optional: of('optional'),
    deprecated: of('deprecated'),
    url,
    integrity,
  };
}

function ofRelease(reader: TableReader, key: string): ReleaseQuery | null {
  const node = reader.string(key);
  if (node === null) return null;
  const read = readReleaseQuery(node.value as string);
  if (typeof read !== 'string') return read;
  invalid(reader, key, read, node.span);
  return null;
}

/** One query, or a list of them. */
function queries(reader: TableReader, key: string): readonly Query[] {
  const value = reader.table.entries.get(key)?.value;
  if (value === undefined) return [];
  if (value.kind !== 'array') {
    const one = query(reader, key);
    return one === null ? [] : [one];
  }
  return reader.strings(key).flatMap(({ text, span }) => asQuery(reader, key, text, span) ?? []);
}

function query(reader: TableReader, key: string): Query | null {
  const node = reader.string(key);
  return node === null ? null : asQuery(reader, key, node.value as string, node.span);
}

function asQuery(reader: TableReader, key: string, text: string, span: Span): Query | null {
  const reading = readQuery(text);
  if (reading.ok) return reading.query;
  invalid(reader, key, reading.message, span);
  return null;
}

function invalid(reader: TableReader, key: string, message: string, span: Span): void {
  reader.problems.push({ code: 'QUERY_INVALID', key, message, span });
}
