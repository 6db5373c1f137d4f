import { composed, lineStarts, positionAt, type Span } from '../text/index.js';
import { firstProblems, type ManifestProblem } from './manifest-problem.js';
import { TableReader } from './table-reader.js';
import { parseToml, type TomlEntry, type TomlScalar } from './toml-document.js';

/** In the order in which the tool prints them. */
export const REQUIREMENT_KINDS = ['runtime', 'dev', 'peer', 'optional'] as const;
export type RequirementKind = (typeof REQUIREMENT_KINDS)[number];

/** Keys of the table in which the requirements of a kind stand. */
export function needsPath(kind: RequirementKind): readonly string[] {
  return kind === 'runtime' ? ['needs'] : ['needs', kind];
}

/** A requirement as it stands in a manifest. */
export interface WrittenRequirement {
  readonly kind: RequirementKind;
  readonly name: string;
  /** `shared`, `workspace` or a range that can be read. */
  readonly written: string;
  /** Patterns of targets; empty: for every target. */
  readonly when: readonly string[];
  /** The whole entry, key and value. */
  readonly span: Span;
  /** Where it begins, from 1. */
  readonly line: number;
  /** Where it is in no file of ours. */
  readonly file?: string;
  /** Of a foreign file: for what it has no word of its own, so that a range or a name alone says it. */
  readonly lacks?: { readonly shared: boolean; readonly workspace: boolean };
}

/** `ledger.project.toml`. */
export interface ProjectManifest {
  readonly name: string;
  readonly nameSpan: Span;
  readonly version: string | null;
  readonly ships: 'app' | 'library';
  readonly requirements: readonly WrittenRequirement[];
  readonly implicit: readonly string[];
}

type Unplaced = Omit<WrittenRequirement, 'line'>;

const SUBTABLES = ['dev', 'peer', 'optional'] as const;

/** What a project's manifest says; null beside problems when nothing can be made of it. */
export interface ProjectReading {
  readonly project: ProjectManifest | null;
  readonly problems: readonly ManifestProblem[];
}

/**
 * Reads a project's manifest; null beside a problem when nothing can be made of it. A requirement
 * that cannot be read is left out and reported, the others stay.
 */
export function readProjectManifest(text: string): ProjectReading {
  const parsed = parseToml(text);
  if (!parsed.ok) {
    return {
      project: null,
      problems: [{ code: 'SYNTAX', message: parsed.message, span: parsed.span }],
    };
  }
  const problems: ManifestProblem[] = [];
  const reader = new TableReader(parsed.root, problems);
  reader.allow(['name', 'version', 'ships', 'needs', 'use']);
  const name = reader.requiredString('name', '`name = "our-project"`');
  const version = reader.string('version');
  if (version !== null) reader.version('version', version);
  const ships = reader.choice('ships', ['app', 'library'], 'app');
  const starts = lineStarts(text);
  const requirements = readNeeds(reader, problems).map((one) => ({
    ...one,
    line: positionAt(starts, one.span[0]).line,
  }));
  const use = reader.tableAt('use');
  use?.allow(['implicit']);
  const implicit = use?.strings('implicit').map((item) => item.text) ?? [];
  const known = name === null ? null : reader.name('project', name.value as string, name.span);
  if (name === null || known === null) return { project: null, problems: firstProblems(problems) };
  return {
    project: {
      name: known,
      nameSpan: name.span,
      version: (version?.value as string | undefined) ?? null,
      ships,
      requirements,
      implicit: implicit.map(composed),
    },
    problems: firstProblems(problems),
  };
}

function readNeeds(root: TableReader, problems: ManifestProblem[]): readonly Unplaced[] {
  const needs = root.tableAt('needs');
  if (needs === null) return [];
  const found: Unplaced[] = [];
  const readAll = (reader: TableReader, kind: RequirementKind, skip: readonly string[]): void => {
    for (const entry of reader.table.entries.values()) {
      if (skip.includes(entry.key)) continue;
      const requirement = readRequirement(reader, kind, entry);
      if (requirement !== null) found.push(requirement);
    }
  };
  readAll(needs, 'runtime', SUBTABLES);
  for (const kind of SUBTABLES) {
    const table = needs.tableAt(kind);
    if (table !== null) readAll(table, kind, []);
  }
  return withoutRepeats(found, problems);
}

/** A package may be a peer and something else besides; any other two kinds contradict each other. */
function withoutRepeats(
  found: readonly Unplaced[],
  problems: ManifestProblem[],
): readonly Unplaced[] {
  const firstKind = new Map<string, RequirementKind>();
  return found.filter(({ name, kind, span }) => {
    if (kind === 'peer') return true;
    const first = firstKind.get(name);
    if (first === undefined) {
      firstKind.set(name, kind);
      return true;
    }
    problems.push({ code: 'REQUIRED_TWICE', name, kinds: [first, kind], span });
    return false;
  });
}

function readRequirement(
  reader: TableReader,
  kind: RequirementKind,
  { key, keySpan, span, value }: TomlEntry,
): Unplaced | null {
  if (reader.name('package', key, keySpan) === null) return null;
  let node: TomlScalar | null;
  let when: readonly string[] = [];
  if (value.kind === 'table') {
    const inner = new TableReader(value, reader.problems);
    inner.allow(['range', 'when']);
    node = inner.requiredString('range', '`range = "^1.0.0"`');
    when = inner.strings('when').map((item) => item.text);
  } else if (value.kind === 'string') node = value as TomlScalar;
  else {
    reader.wrongType(key, '"shared", "workspace" or a range in quotes', value);
    return null;
  }
  if (node === null) return null;
  const written = node.value as string;
  if (written !== 'shared' && written !== 'workspace') {
    if (!reader.range(key, node)) return null;
  }
  return { kind, name: key, written, when, span };
}
