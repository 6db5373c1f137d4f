import { composed, lineStarts, positionAt, type Span } from '../text/index.js';
import { firstProblems, type ManifestProblem } from './manifest-problem.js';
import { REQUIREMENT_KINDS, type RequirementKind } from './project-manifest.js';
import { TableReader } from './table-reader.js';
import { parseToml, type TomlScalar } from './toml-document.js';

/** A text of the shared file with its place. */
export interface Agreed {
  readonly text: string;
  readonly span: Span;
  /** Where it stands in a foreign file. */
  readonly file?: string;
}

export interface LockstepSet extends Agreed {
  readonly name: string;
  readonly packages: readonly string[];
}

export interface EverywhereLine extends Agreed {
  readonly name: string;
  readonly kind: RequirementKind;
  /** Where it stands, from 1. */
  readonly line: number;
  /** Names or folders of projects that do without it. */
  readonly except: readonly Agreed[];
}

/** One exact version of a package wherever it turns up. */
export interface PinLine extends Agreed {
  /** Names or folders of projects whose own requirements it leaves out. */
  readonly except: readonly Agreed[];
}

export interface ExceptionLine {
  readonly project: string;
  readonly package: string;
  readonly range: string;
  readonly reason: string;
  readonly owner: string;
  /** The last day on which it holds, as YYYY-MM-DD. */
  readonly until: string;
  readonly span: Span;
}

/** What releases of a package ask for, answered otherwise than they ask. */
export interface OtherwiseLine {
  /** The package whose releases ask. */
  readonly of: string;
  /** What they ask for. */
  readonly package: string;
  /** The range that is answered in place of theirs. */
  readonly range: string;
  readonly reason: string;
  readonly owner: string;
  /** The last day on which it holds, as YYYY-MM-DD. */
  readonly until: string;
  readonly span: Span;
}

/** A finding that is left unsaid through its last day. */
export interface MutedLine {
  readonly finding: string;
  readonly reason: string;
  readonly owner: string;
  /** YYYY-MM-DD */
  readonly until: string;
  readonly span: Span;
}

/** Terms that somebody accepted for the team. */
export interface AcceptedLine {
  readonly id: string;
  readonly title: string;
  readonly url: string;
  readonly by: string;
  /** YYYY-MM-DD */
  readonly on: string;
  readonly span: Span;
}

/** `ledger.shared.toml`. */
export interface SharedManifest {
  readonly shared: ReadonlyMap<string, Agreed>;
  readonly lockstep: readonly LockstepSet[];
  readonly everywhere: readonly EverywhereLine[];
  readonly pins: ReadonlyMap<string, PinLine>;
  readonly exceptions: readonly ExceptionLine[];
  readonly otherwise: readonly OtherwiseLine[];
  readonly muted: readonly MutedLine[];
  readonly accepted: readonly AcceptedLine[];
}

/** What a workspace without the file has agreed on. */
export const NOTHING_SHARED: SharedManifest = {
  shared: new Map(),
  lockstep: [],
  everywhere: [],
  pins: new Map(),
  exceptions: [],
  otherwise: [],
  muted: [],
  accepted: [],
};

/** What `ledger.shared.toml` says; null beside problems when nothing can be made of it. */
export interface SharedManifestReading {
  readonly shared: SharedManifest | null;
  readonly problems: readonly ManifestProblem[];
}

/** Reads `ledger.shared.toml`; null when nothing can be made of it. A line that is wrong is left out and reported. */
export function readSharedManifest(text: string): SharedManifestReading {
  const parsed = parseToml(text);
  if (!parsed.ok) {
    return {
      shared: null,
      problems: [{ code: 'SYNTAX', message: parsed.message, span: parsed.span }],
    };
  }
  const problems: ManifestProblem[] = [];
  const reader = new TableReader(parsed.root, problems);
  reader.allow([
    'format',
    'shared',
    'lockstep',
    'everywhere',
    'pins',
    'exceptions',
    'otherwise',
    'muted',
    'accepted',
  ]);
  reader.format();
  if (problems.some((p) => p.code === 'FORMAT_UNKNOWN')) return { shared: null, problems };
  const lockstep = readLockstep(reader);
  const shared = readRanges(reader.tableAt('shared'));
  refuseTwice(shared, lockstep, problems);
  return {
    shared: {
      shared,
      lockstep,
      everywhere: readEverywhere(reader, lineStarts(text)),
      pins: readPins(reader),
      exceptions: reader.tablesAt('exceptions').flatMap((line) => readException(line) ?? []),
      otherwise: readAllOtherwise(reader, problems),
      muted: reader.tablesAt('muted').flatMap((line) => readMuted(line) ?? []),
      accepted: reader.tablesAt('accepted').flatMap((line) => readAccepted(line) ?? []),
    },
    problems: firstProblems(problems),
  };
}

function agreedOf(node: TomlScalar): Agreed {
  return { text: node.value as string, span: node.span };
}

function readRanges(reader: TableReader | null): Map<string, Agreed> {
  const ranges = new Map<string, Agreed>();
  for (const { key, keySpan } of reader?.table.entries.values() ?? []) {
    const node = reader!.string(key);
    if (node === null || reader!.name('package', key, keySpan) === null) continue;
    if (reader!.range(key, node)) ranges.set(key, agreedOf(node));
  }
  return ranges;
}

function readPins(root: TableReader): Map<string, PinLine> {
  const pins = new Map<string, PinLine>();
  const reader = root.tableAt('pins');
  for (const { key, keySpan, value } of reader?.table.entries.values() ?? []) {
    if (reader!.name('package', key, keySpan) === null) continue;
    const one = value.kind === 'table' ? reader!.tableAt(key) : null;
    one?.allow(['version', 'except']);
    const node =
      one === null ? reader!.string(key) : one.requiredString('version', '`version = "1.0.0"`');
    if (node === null || reader!.version(key, node, true) === null) continue;
    const except = (one?.strings('except') ?? []).map((item) => ({
      ...item,
      text: composed(item.text),
    }));
    pins.set(key, { ...agreedOf(node), except });
  }
  return pins;
}

function readLockstep(root: TableReader): readonly LockstepSet[] {
  const reader = root.tableAt('lockstep');
  return [...(reader?.table.entries.keys() ?? [])].flatMap((name) => {
    const one = reader!.tableAt(name);
    if (one === null) return [];
    one.allow(['range', 'packages']);
    const range = one.requiredString('range', '`range = "^1.0.0"`');
    const packages = one.strings('packages').map((item) => composed(item.text));
    if (!one.table.entries.has('packages')) one.missing('packages', '`packages = ["a", "b"]`');
    if (range === null || !one.range(name, range)) return [];
    return [{ name, packages, ...agreedOf(range) }];
  });
}

function readEverywhere(root: TableReader, starts: readonly number[]): readonly EverywhereLine[] {
  const reader = root.tableAt('everywhere');
  return [...(reader?.table.entries.values() ?? [])].flatMap(
    ({ key, keySpan }): EverywhereLine[] => {
      const one = reader!.tableAt(key);
      if (one === null || one.name('package', key, keySpan) === null) return [];
      one.allow(['range', 'kind', 'except']);
      const range = one.requiredString('range', '`range = "^1.0.0"`');
      const kind = one.choice('kind', REQUIREMENT_KINDS, 'runtime');
      if (range === null || !one.range(key, range)) return [];
      const { line } = positionAt(starts, range.span[0]);
      return [
        {
          name: key,
          kind,
          line,
          except: one.strings('except').map((item) => ({ ...item, text: composed(item.text) })),
          ...agreedOf(range),
        },
      ];
    },
  );
}

const EXCEPTION_EXAMPLES = {
  project: '`project = "one-project"`',
  package: '`package = "one-package"`',
  range: '`range = "^1.0.0"`',
  reason: '`reason = "why it differs"`',
  owner: '`owner = "who answers for it"`',
} as const;

function readException(reader: TableReader): ExceptionLine | null {
  reader.allow([...Object.keys(EXCEPTION_EXAMPLES), 'until']);
  const [project, packageName, range, reason, owner] = Object.entries(EXCEPTION_EXAMPLES).map(
    ([key, example]) => reader.requiredString(key, example),
  );
  const until = readDay(reader, 'until');
  if (!project || !packageName || !range || !reason || !owner || until === null) return null;
  if (!reader.range('range', range)) return null;
  return {
    project: composed(project.value as string),
    package: composed(packageName.value as string),
    range: range.value as string,
    reason: reason.value as string,
    owner: owner.value as string,
    until,
    span: reader.table.span,
  };
}

const OTHERWISE_EXAMPLES = {
  of: '`of = "the-package-that-asks"`',
  package: '`package = "what-it-asks-for"`',
  range: '`range = "^1.0.0"`',
  reason: '`reason = "why it is right"`',
  owner: '`owner = "who answers for it"`',
} as const;

/** The first line for an owner and a package counts; another one is reported. */
function readAllOtherwise(
  root: TableReader,
  problems: ManifestProblem[],
): readonly OtherwiseLine[] {
  const seen = new Set<string>();
  return root.tablesAt('otherwise').flatMap((table) => {
    const line = readOtherwise(table);
    if (line === null) return [];
    const key = `${line.of} ${line.package}`;
    if (seen.has(key)) {
      const [first, second] = ['[[otherwise]]', `[[otherwise]] of ${line.of}`];
      problems.push({ code: 'AGREED_TWICE', name: line.package, first, second, span: line.span });
      return [];
    }
    seen.add(key);
    return [line];
  });
}

function readOtherwise(reader: TableReader): OtherwiseLine | null {
  reader.allow([...Object.keys(OTHERWISE_EXAMPLES), 'until']);
  const [of, packageName, range, reason, owner] = Object.entries(OTHERWISE_EXAMPLES).map(
    ([key, example]) => reader.requiredString(key, example),
  );
  const until = readDay(reader, 'until');
  if (!of || !packageName || !range || !reason || !owner || until === null) return null;
  if (!reader.range('range', range)) return null;
  return {
    of: composed(of.value as string),
    package: composed(packageName.value as string),
    range: range.value as string,
    reason: reason.value as string,
    owner: owner.value as string,
    until,
    span: reader.table.span,
  };
}

function readMuted(reader: TableReader): MutedLine | null {
  reader.allow(['finding', 'reason', 'owner', 'until']);
  const finding = reader.requiredString('finding', '`finding = "unused one-project one-package"`');
  const reason = reader.requiredString('reason', EXCEPTION_EXAMPLES.reason);
  const owner = reader.requiredString('owner', EXCEPTION_EXAMPLES.owner);
  const until = readDay(reader, 'until');
  if (!finding || !reason || !owner || until === null) return null;
  return {
    finding: finding.value as string,
    reason: reason.value as string,
    owner: owner.value as string,
    until,
    span: reader.table.span,
  };
}

const ACCEPTED_EXAMPLES = {
  id: '`id = "charts-2"`',
  title: '`title = "Terms for charts"`',
  url: '`url = "https://charts.example/terms"`',
  by: '`by = "who accepted them"`',
} as const;

function readAccepted(reader: TableReader): AcceptedLine | null {
  reader.allow([...Object.keys(ACCEPTED_EXAMPLES), 'on']);
  const [id, title, url, by] = Object.entries(ACCEPTED_EXAMPLES).map(([key, example]) =>
    reader.requiredString(key, example),
  );
  const on = readDay(reader, 'on');
  if (!id || !title || !url || !by || on === null) return null;
  return {
    id: id.value as string,
    title: title.value as string,
    url: url.value as string,
    by: by.value as string,
    on,
    span: reader.table.span,
  };
}

function readDay(reader: TableReader, key: string): string | null {
  const value = reader.table.entries.get(key)?.value;
  if (value === undefined) {
    reader.missing(key, `\`${key} = 2027-03-31\``);
    return null;
  }
  const found = value.kind === 'date' ? String(value.value) : '';
  if (/^\d{4}-\d{2}-\d{2}$/.test(found)) return found;
  reader.problems.push({
    code: 'DATE_INVALID',
    key,
    found: 'value' in value ? String(value.value) : value.kind,
    span: value.span,
  });
  return null;
}

function refuseTwice(
  shared: ReadonlyMap<string, Agreed>,
  lockstep: readonly LockstepSet[],
  problems: ManifestProblem[],
): void {
  const first = new Map([...shared.keys()].map((name) => [name, '[shared]']));
  for (const set of lockstep) {
    const second = `[lockstep.${set.name}]`;
    for (const name of set.packages) {
      const before = first.get(name);
      if (before === undefined) first.set(name, second);
      else problems.push({ code: 'AGREED_TWICE', name, first: before, second, span: set.span });
    }
  }
}
