import { NAME } from '../../text/index.js';
import { parseVersion } from '../../version/index.js';
import type { RequirementKind } from '../../manifest/index.js';
import type { SyntaxName } from '../read-shapes.js';
import {
  JSON_SYNTAX,
  linePattern,
  linesSyntax,
  TOML_SYNTAX,
  XML_SYNTAX,
  YAML_SYNTAX,
  type SourceNode,
  type SourceTable,
} from '../syntax/index.js';
import { candidatesIn, entriesAt, likeness, queryOf, type Candidate } from './candidates.js';
import { patternOf } from './path-pattern.js';

/** A place in which requirements seem to stand, over all files of a group. */
export interface ProposedRequirements {
  readonly at: string;
  readonly package: string | null;
  readonly range: string | null;
  readonly kind: RequirementKind;
  /** How many of its values read as ranges, and how many there are. */
  readonly ranges: number;
  readonly values: number;
  /** Why it is thought to be one, in a sentence. */
  readonly why: string;
}

/** One sort of manifests that a repository seems to have. */
export interface ProposedManifest {
  readonly files: string;
  readonly syntax: SyntaxName;
  readonly pattern: string | null;
  readonly paths: readonly string[];
  /** From a file's folder up to its project's. */
  readonly levels: number;
  readonly name: string | null;
  readonly version: string | null;
  readonly requirements: readonly ProposedRequirements[];
  readonly ranges: 'semver' | 'interval';
  /** The text that seems to mean the shared version. */
  readonly shared: string | null;
}

export interface ProposedShared {
  readonly file: string;
  readonly syntax: SyntaxName;
  readonly at: string;
  readonly values: number;
}

export interface Proposal {
  readonly manifests: readonly ProposedManifest[];
  readonly shared: ProposedShared | null;
  /** Files with a structure in which nothing was recognised. */
  readonly unread: readonly string[];
}

const BY_ENDING: Readonly<Record<string, Exclude<SyntaxName, 'lines'>>> = {
  json: 'json',
  jsonc: 'json',
  yaml: 'yaml',
  yml: 'yaml',
  toml: 'toml',
  xml: 'xml',
};
const SYNTAXES = { json: JSON_SYNTAX, yaml: YAML_SYNTAX, toml: TOML_SYNTAX, xml: XML_SYNTAX };

/** Lines of a name and a range with one of these between them. */
const SEPARATORS = [
  String.raw`[ \t]*==?[ \t]*`,
  String.raw`[ \t]*:[ \t]+`,
  String.raw`[ \t]+at[ \t]+`,
  String.raw`@`,
  String.raw`[ \t]+`,
];
const LINE_WORDS = ['', String.raw`[a-z]+[ \t]+`];
const MOST_LINES = 2_000;

interface ReadFile {
  readonly path: string;
  readonly syntax: SyntaxName;
  readonly pattern: string | null;
  readonly root: SourceNode;
  readonly candidates: readonly Candidate[];
}

/**
 * What shapes a repository's files seem to have: tables and lists whose values read as ranges and whose keys or members
 * read as names of packages, gathered by where they stand and by the pattern of their paths. A pure function.
 * O(size of the files).
 * @param files that may have a structure, by path; our own left out
 */
export function proposeShapes(files: ReadonlyMap<string, string>): Proposal {
  const all = [...files].sort(([a], [b]) => (a < b ? -1 : 1));
  const read = all.flatMap(([path, text]) => readFile(path, text) ?? []);
  const groups = joinedByPlace(
    groupBy(read, ({ path, syntax, pattern }) => {
      const parts = path.split('/');
      return [syntax, pattern ?? '', parts.at(-1)!, parts.length].join('\n');
    }).map(withPlacesOfAll),
  );
  const recognised = groups.filter((group) => group.length > 0);
  const known = new Set(recognised.flatMap((group) => group.map(({ path }) => path)));
  const paths = all.map(([path]) => path);
  const manifests = recognised
    .map((group) => proposedManifest(group, paths))
    .sort((a, b) => b.paths.length - a.paths.length || (a.files < b.files ? -1 : 1));
  const unread = read.flatMap(({ path }) => (known.has(path) ? [] : [path]));
  return withShared(manifests, recognised.flat(), unread);
}

/**
 * Files of one kind with what stands at each place that looks like requirements in one of them: in another the same place
 * may have nothing that reads as a range. Files that have none of the places are left out.
 */
function withPlacesOfAll(group: readonly ReadFile[]): readonly ReadFile[] {
  const places = new Map(
    group.flatMap(({ candidates }) =>
      candidates.map(
        ({ at, name, range }) => [`${at}\n${name}\n${range}`, { at, name, range }] as const,
      ),
    ),
  );
  return group.flatMap((file) => {
    if (file.syntax === 'lines') return [file];
    const candidates = [...places.values()].flatMap((place) => {
      const entries = entriesAt(file.root, place);
      return entries.length === 0 ? [] : [{ ...place, entries }];
    });
    return candidates.length === 0 ? [] : [{ ...file, candidates }];
  });
}

function readFile(path: string, text: string): ReadFile | null {
  const ending = path.split('/').at(-1)!.split('.').at(-1)!.toLowerCase();
  const syntax =
    BY_ENDING[ending] ?? (/^\s*</.test(text) ? 'xml' : /^\s*\{/.test(text) ? 'json' : null);
  if (syntax === null) return linesIn(path, text);
  const parsed = SYNTAXES[syntax].parse(text);
  if (!parsed.ok) return null;
  const { root } = parsed;
  return { path, syntax, pattern: null, root, candidates: candidatesIn(root, syntax === 'xml') };
}

/** A file without a grammar in which most lines are a name and a range. */
function linesIn(path: string, text: string): ReadFile | null {
  const lines = text.split(/\r?\n/).filter((line) => !/^\s*(?:#|\/\/|;|$)/.test(line));
  if (lines.length < 2 || lines.length > MOST_LINES) return null;
  // Most text says no versions at all.
  if (lines.filter((line) => /\d\.\d|[\s@=]\*\s*$/.test(line)).length * 2 < lines.length)
    return null;
  for (const separator of SEPARATORS)
    for (const word of LINE_WORDS) {
      const source = String.raw`^[ \t]*${word}(?P<package>[^\s=#]+?)${separator}(?P<range>[^\s#]+)[ \t]*\r?$`;
      const pattern = linePattern(source);
      if (!pattern.ok) continue;
      const parsed = linesSyntax(pattern.pattern).parse(text);
      if (!parsed.ok || parsed.root.kind !== 'list') continue;
      const entries = parsed.root.items.flatMap((item) => {
        const [name, range] = ['package', 'range'].map((key) =>
          item.kind === 'table' ? item.entries.get(key)?.value : undefined,
        );
        if (name?.kind !== 'scalar' || range?.kind !== 'scalar') return [];
        return [{ name: name.text, text: range.text, span: item.span }];
      });
      const good = entries.filter(
        ({ name, text: said }) => NAME.test(name) && likeness(said) !== null,
      );
      if (good.length >= 2 && good.length * 2 >= lines.length)
        return {
          path,
          syntax: 'lines',
          pattern: source,
          root: parsed.root,
          candidates: [{ at: '$[*]', name: null, range: null, entries: good }],
        };
    }
  return null;
}

function groupBy<T>(list: readonly T[], key: (one: T) => string): readonly (readonly T[])[] {
  const groups = new Map<string, T[]>();
  for (const one of list) groups.set(key(one), [...(groups.get(key(one)) ?? []), one]);
  return [...groups.values()];
}

/** Files of different names in one folder whose places are the same are one sort, too. */
function joinedByPlace(groups: readonly (readonly ReadFile[])[]): readonly (readonly ReadFile[])[] {
  const alone = groups.filter((group) => group.length === 1).map(([file]) => file!);
  const together = groupBy(alone, ({ path, syntax, pattern, candidates }) =>
    [
      syntax,
      pattern ?? '',
      path.split('/').slice(0, -1).join('/'),
      path.split('.').at(-1)!,
      ...candidates.map(({ at, name, range }) => `${at} ${name} ${range}`).sort(),
    ].join('\n'),
  );
  return [...groups.filter((group) => group.length > 1), ...together];
}

function proposedManifest(group: readonly ReadFile[], all: readonly string[]): ProposedManifest {
  const [{ syntax, pattern }] = group as [ReadFile];
  const paths = group.map(({ path }) => path);
  const places = groupBy(
    group.flatMap(({ candidates }) => candidates),
    ({ at, name, range }) => [at, name, range].join('\n'),
  );
  const texts = group.flatMap(({ candidates }) =>
    candidates.flatMap(({ entries }) => entries.map(({ text }) => text)),
  );
  const roots = group.map(({ root }) => root);
  return {
    files: patternOf(paths, all),
    syntax,
    pattern,
    paths,
    levels: levelsOf(paths),
    name:
      syntax === 'lines'
        ? null
        : memberIn(roots, ['name', 'id', 'project'], (text) => NAME.test(text)),
    version:
      syntax === 'lines'
        ? null
        : memberIn(roots, ['version', 'at'], (text) => parseVersion(text).ok),
    requirements: places.map((candidates) => proposedRequirements(candidates, group.length)),
    ranges: texts.some((text) => likeness(text) === 'interval') ? 'interval' : 'semver',
    shared: repeatedWord(group.flatMap(({ candidates }) => candidates)),
  };
}

/** Folders that all paths end in alike, below one in which they differ, belong to the layout and not to the project. */
function levelsOf(paths: readonly string[]): number {
  const folders = paths.map((path) => path.split('/').slice(0, -1).reverse());
  const [first] = folders as [string[]];
  const same = first.findIndex((part, i) => folders.some((parts) => parts[i] !== part));
  return same < 0 ? 0 : same;
}

function proposedRequirements(
  candidates: readonly Candidate[],
  files: number,
): ProposedRequirements {
  const [{ at, name, range }] = candidates as [Candidate];
  const entries = candidates.flatMap((one) => one.entries);
  const ranges = entries.filter(({ text }) => likeness(text) !== null).length;
  const what = name === null ? 'keys read as names' : `${name} reads as a name`;
  return {
    at,
    package: name,
    range,
    kind: kindOf(at),
    ranges,
    values: entries.length,
    why: `in ${candidates.length} of ${files} ${files === 1 ? 'file' : 'files'} ${what}, and ${ranges} of ${entries.length} values as ranges`,
  };
}

function kindOf(at: string): RequirementKind {
  const words = at.toLowerCase();
  if (/peer/.test(words)) return 'peer';
  if (/optional|extra/.test(words)) return 'optional';
  return /dev|test|tool|build/.test(words) ? 'dev' : 'runtime';
}

/** A member at the top, or one level below it, that says such a text in every file. */
function memberIn(
  roots: readonly SourceNode[],
  words: readonly string[],
  isGood: (text: string) => boolean,
): string | null {
  const queries = roots.map((root) => new Set(membersOf(root, words, isGood)));
  const [first, ...others] = queries;
  return [...(first ?? [])].find((query) => others.every((one) => one.has(query))) ?? null;
}

function membersOf(
  root: SourceNode,
  words: readonly string[],
  isGood: (text: string) => boolean,
): readonly string[] {
  if (root.kind !== 'table') return [];
  const below: (readonly [readonly (string | number)[], SourceTable])[] = [[[], root]];
  for (const [key, { value }] of root.entries) {
    if (value.kind === 'table') below.push([[key], value]);
    const [only] = value.kind === 'list' ? value.items : [];
    if (only?.kind === 'table') below.push([[key, 0], only]);
  }
  return words.flatMap((word) =>
    below.flatMap(([path, table]) =>
      [word, `@${word}`].flatMap((key) => {
        const value = table.entries.get(key)?.value;
        const isText = value?.kind === 'scalar' && typeof value.value === 'string';
        return isText && isGood(value.text) ? [queryOf([...path, key]).replace('[*]', '[0]')] : [];
      }),
    ),
  );
}

/** A text that is no range and stands for several packages, as it is or with the package's name in it. */
function repeatedWord(candidates: readonly Candidate[]): string | null {
  const owners = new Map<string, Set<string>>();
  for (const { entries } of candidates)
    for (const { name, text } of entries) {
      if (likeness(text) !== null || /[/\\]/.test(text)) continue;
      for (const word of [text, text.replaceAll(name, '{name}')])
        owners.set(word, (owners.get(word) ?? new Set()).add(name));
    }
  const [best] = [...owners].sort(([, a], [, b]) => b.size - a.size);
  return best !== undefined && best[1].size > 1 ? best[0] : null;
}

/** A file by itself whose table has the packages for which manifests have the word for the shared version. */
function withShared(
  manifests: readonly ProposedManifest[],
  read: readonly ReadFile[],
  unread: readonly string[],
): Proposal {
  const taken = new Set(
    read.flatMap(({ path, candidates }) => {
      const word = manifests.find(({ paths }) => paths.includes(path))?.shared ?? null;
      if (word === null) return [];
      return candidates.flatMap(({ entries }) =>
        entries.flatMap(({ name, text }) =>
          text === word.replaceAll('{name}', name) ? [name] : [],
        ),
      );
    }),
  );
  const places = read.flatMap(({ path, syntax, candidates }) =>
    syntax === 'lines'
      ? []
      : candidates.flatMap((candidate) => {
          const names = new Set(candidate.entries.map(({ name }) => name));
          const hasAll = taken.size > 0 && [...taken].every((name) => names.has(name));
          const isPlain = candidate.name === null && candidate.range === null;
          const isAlone = manifests.some(({ paths }) => paths.length === 1 && paths[0] === path);
          return hasAll && isPlain && isAlone ? [{ path, syntax, candidate }] : [];
        }),
  );
  const [place] = places;
  if (place === undefined) return { manifests, shared: null, unread };
  const { path: file, syntax, candidate } = place;
  return {
    manifests: manifests.filter(({ paths }) => paths[0] !== file),
    shared: { file, syntax, at: candidate.at, values: candidate.entries.length },
    unread,
  };
}
