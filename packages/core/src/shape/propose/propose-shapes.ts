import { isNameInAnyForm } from '../../text/index.js';
import { parseVersion } from '../../version/index.js';
import { REQUIREMENT_KINDS, type RequirementKind } from '../../manifest/index.js';
import type { SyntaxName } from '../read-shapes.js';
import type { AdoptForm, ManifestForm, ShapesForm, SharedForm } from '../shapes-form.js';
import { PLAIN_SPELLING, writtenOf, type Spelling } from '../spelling.js';
import {
  JSON_SYNTAX,
  linePattern,
  linesSyntax,
  TOML_SYNTAX,
  XML_SYNTAX,
  YAML_SYNTAX,
  sourceAt,
  type SourceNode,
  type SourceTable,
} from '../syntax/index.js';
import { found, readQuery } from '../query.js';
import { candidatesIn, entriesAt, likeness, queryOf, type Candidate } from './candidates.js';
import { patternOf } from './path-pattern.js';

/** Why a place is thought to hold requirements. */
export interface PlaceEvidence {
  /** How many of its values read as ranges, or are words that stand for one, and how many there are. */
  readonly good: number;
  readonly values: number;
  readonly why: string;
}

/** One sort of manifests that a repository seems to have. */
export interface ProposedManifest {
  readonly form: ManifestForm;
  readonly paths: readonly string[];
  /** One for each place of the form; of lines, one. */
  readonly evidence: readonly PlaceEvidence[];
  /** Nearly all values read as ranges, and the file has a grammar. */
  readonly isSure: boolean;
}

export interface Proposal {
  readonly manifests: readonly ProposedManifest[];
  readonly shared: { readonly form: SharedForm; readonly values: number } | null;
  /** What seems to say which versions are installed. */
  readonly adopt: { readonly form: AdoptForm; readonly values: number } | null;
  /** Files with a structure in which nothing was recognised. */
  readonly unread: readonly string[];
}

/** The form that says all that is proposed. */
export function formOfProposal({ manifests, shared, adopt }: Proposal): ShapesForm {
  return {
    manifests: manifests.map(({ form }) => form),
    shared: shared?.form ?? null,
    adopt: adopt === null ? [] : [adopt.form],
    registries: [],
  };
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
  const sketches = recognised.map((group) => ({ form: formOfGroup(group, paths), group }));
  const projects = projectNames(sketches);
  const manifests = sketches
    .map((sketch) => proposedManifest(sketch, projects))
    .sort((a, b) => b.paths.length - a.paths.length || (a.paths[0]! < b.paths[0]! ? -1 : 1));
  const unread = read.flatMap(({ path }) => (known.has(path) ? [] : [path]));
  const readable = recognised.flat();
  return withAdopt(withShared(manifests, readable, unread), readable);
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
        ({ name, text: said }) => isNameInAnyForm(name) && likeness(said) !== null,
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

/** Files of one sort, with the form that reads them. */
interface Sketch {
  readonly form: ManifestForm;
  readonly group: readonly ReadFile[];
}

function formOfGroup(group: readonly ReadFile[], all: readonly string[]): ManifestForm {
  const [{ syntax, pattern }] = group as [ReadFile];
  const isLines = syntax === 'lines';
  const paths = group.map(({ path }) => path);
  const texts = candidatesOf(group).flatMap(({ entries }) => entries.map(({ text }) => text));
  const roots = group.map(({ root }) => root);
  return {
    files: [patternOf(paths, all)],
    syntax,
    pattern,
    levels: levelsOf(paths),
    name: isLines ? null : memberIn(roots, ['name', 'id', 'project'], isNameInAnyForm),
    version: isLines ? null : memberIn(roots, ['version', 'at'], (text) => parseVersion(text).ok),
    ships: null,
    requirements: isLines ? [] : placesOf(group).map(([first]) => requirementForm(first!)),
    kind: isLines ? kindOf(paths[0]!) : 'runtime',
    spelling: {
      ...PLAIN_SPELLING,
      ranges: texts.some((text) => likeness(text) === 'interval') ? 'interval' : 'semver',
    },
  };
}

function total(evidence: readonly PlaceEvidence[], of: 'good' | 'values'): number {
  return evidence.reduce((sum, one) => sum + one[of], 0);
}

function candidatesOf(group: readonly ReadFile[]): readonly Candidate[] {
  return group.flatMap(({ candidates }) => candidates);
}

function placesOf(group: readonly ReadFile[]): readonly (readonly Candidate[])[] {
  const places = groupBy(candidatesOf(group), ({ at, name, range }) =>
    [at, name, range].join('\n'),
  );
  const rank = ([first]: readonly Candidate[]): number =>
    REQUIREMENT_KINDS.indexOf(kindOf(first!.at));
  return [...places].sort((a, b) => rank(a) - rank(b));
}

/** With the words by which the files seem to say the shared version and a project of the workspace, and with the reasons. */
function proposedManifest(
  { form, group }: Sketch,
  projects: ReadonlySet<string>,
): ProposedManifest {
  const words = wordsFor(candidatesOf(group));
  const workspace = words.find(({ owners }) => owners.every((name) => projects.has(name)));
  const shared = words.find(
    ({ owners }) => owners.length > 1 && !owners.some((name) => projects.has(name)),
  );
  const spelling = {
    ...form.spelling,
    shared: shared?.word ?? null,
    workspace: workspace?.word ?? null,
  };
  const evidence = placesOf(group).map((candidates) =>
    evidenceOf(candidates, group.length, spelling),
  );
  const isLines = form.syntax === 'lines';
  return {
    form: { ...form, spelling },
    paths: group.map(({ path }) => path),
    evidence,
    isSure: !isLines && total(evidence, 'good') * 10 >= total(evidence, 'values') * 9,
  };
}

/** Folders that all paths end in alike, below one in which they differ, belong to the layout and not to the project. */
function levelsOf(paths: readonly string[]): number {
  const folders = paths.map((path) => path.split('/').slice(0, -1).reverse());
  const [first] = folders as [string[]];
  const same = first.findIndex((part, i) => folders.some((parts) => parts[i] !== part));
  return same < 0 ? 0 : same;
}

function requirementForm({ at, name, range }: Candidate): ManifestForm['requirements'][number] {
  return {
    at,
    package: name === null ? [] : [name],
    join: '',
    range,
    when: null,
    kind: kindOf(at),
  };
}

function evidenceOf(
  candidates: readonly Candidate[],
  files: number,
  spelling: Spelling,
): PlaceEvidence {
  const [{ name }] = candidates as [Candidate];
  const entries = candidates.flatMap((one) => one.entries);
  const ranges = entries.filter(({ text }) => likeness(text) !== null).length;
  const good = entries.filter((one) => writtenOf(spelling, one.name, one.text) !== null).length;
  const what = name === null ? 'keys read as names' : `${name} reads as a name`;
  const words = good > ranges ? `, ${good - ranges} more as words that stand for one` : '';
  return {
    good,
    values: entries.length,
    why: `in ${candidates.length} of ${files} ${files === 1 ? 'file' : 'files'} ${what}, and ${ranges} of ${entries.length} values as ranges${words}`,
  };
}

function kindOf(place: string): RequirementKind {
  const words = place.toLowerCase();
  if (/peer/.test(words)) return 'peer';
  if (/optional|extra/.test(words)) return 'optional';
  return /dev|test|tool|build|bench/.test(words) ? 'dev' : 'runtime';
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
    const [only, other] = value.kind === 'list' ? value.items : [];
    if (only?.kind === 'table' && other === undefined) below.push([[key, 0], only]);
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

/** Texts that are no ranges, as they are or with the package's name left open, and of which requirements; the commonest first. */
function wordsFor(
  candidates: readonly Candidate[],
): readonly { readonly word: string; readonly owners: readonly string[] }[] {
  const owners = new Map<string, string[]>();
  for (const { entries } of candidates)
    for (const { name, text } of entries) {
      if (likeness(text) !== null || /[/\\]/.test(text)) continue;
      for (const word of new Set([text, text.replaceAll(name, '{name}')]))
        owners.set(word, [...(owners.get(word) ?? []), name]);
    }
  return [...owners]
    .map(([word, names]) => ({ word, owners: names }))
    .sort((a, b) => b.owners.length - a.owners.length);
}

/** What the projects seem to be called: by what their manifests say, or by their folders. */
function projectNames(sketches: readonly Sketch[]): ReadonlySet<string> {
  return new Set(
    sketches.flatMap(({ group, form: { name, levels } }) => {
      const reading = name === null ? null : readQuery(name);
      return group.flatMap(({ path, root }) => {
        const [at] = reading?.ok === true ? (found(reading.query, root) ?? []) : [];
        const node = at === undefined ? null : sourceAt(root, at);
        if (node?.kind === 'scalar') return [node.text];
        return path.split('/').at(-2 - levels) ?? [];
      });
    }),
  );
}

/** A place of a file by itself that may be no manifest's. */
interface LonePlace {
  readonly path: string;
  readonly syntax: Exclude<SyntaxName, 'lines'>;
  readonly candidate: Candidate;
}

function lonePlaces(
  manifests: readonly ProposedManifest[],
  read: readonly ReadFile[],
): readonly LonePlace[] {
  const alone = new Set(manifests.flatMap(({ paths }) => (paths.length === 1 ? paths : [])));
  return read.flatMap(({ path, syntax, candidates }) =>
    syntax === 'lines' || !alone.has(path)
      ? []
      : candidates.map((candidate) => ({ path, syntax, candidate })),
  );
}

/** A file by itself whose table has the packages for which manifests have the word for the shared version. */
function withShared(
  manifests: readonly ProposedManifest[],
  read: readonly ReadFile[],
  unread: readonly string[],
): Proposal {
  const taken = new Set(
    read.flatMap(({ path, candidates }) => {
      const word =
        manifests.find(({ paths }) => paths.includes(path))?.form.spelling.shared ?? null;
      if (word === null) return [];
      return candidates.flatMap(({ entries }) =>
        entries.flatMap(({ name, text }) =>
          text === word.replaceAll('{name}', name) ? [name] : [],
        ),
      );
    }),
  );
  const place = lonePlaces(manifests, read).find(({ candidate: { name, range, entries } }) => {
    const names = new Set(entries.map((entry) => entry.name));
    const hasAll = taken.size > 0 && [...taken].every((one) => names.has(one));
    return hasAll && name === null && range === null;
  });
  if (place === undefined) return { manifests, shared: null, adopt: null, unread };
  const { path: file, syntax, candidate } = place;
  return {
    manifests: manifests.filter(({ paths }) => paths[0] !== file),
    shared: { form: { file, syntax, at: candidate.at }, values: candidate.entries.length },
    adopt: null,
    unread,
  };
}

/** A file by itself that says one version, and no range, of most packages that manifests require. */
function withAdopt(proposal: Proposal, read: readonly ReadFile[]): Proposal {
  const place = lonePlaces(proposal.manifests, read).find(({ path, candidate: { entries } }) => {
    if (!entries.every(({ text }) => likeness(text) === 'version')) return false;
    const required = new Set(
      proposal.manifests.flatMap(({ paths }) =>
        read.flatMap((file) =>
          paths.includes(file.path) && file.path !== path
            ? file.candidates.flatMap((one) => one.entries.map(({ name }) => name))
            : [],
        ),
      ),
    );
    const names = new Set(entries.map(({ name }) => name));
    return (
      required.size > 0 &&
      [...required].filter((name) => names.has(name)).length * 2 >= required.size
    );
  });
  if (place === undefined) return proposal;
  const {
    path: file,
    syntax,
    candidate: { at: items, name, range, entries },
  } = place;
  return {
    ...proposal,
    manifests: proposal.manifests.filter(({ paths }) => paths[0] !== file),
    adopt: {
      form: { file, syntax, items, package: name, version: range },
      values: entries.length,
    },
  };
}
