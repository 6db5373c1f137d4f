import {
  explainLockChange,
  lockSum,
  openTerms,
  printLock,
  touchedDisputes,
  type CopyName,
  type ExplainedLockChange,
  type LockState,
  type OpenTerms,
} from '../lock/index.js';
import {
  disputedCopies,
  type DisputedCopy,
  type Question,
  type Resolution,
  type Unanswered,
  type UnmetPeer,
  type Watch,
} from '../resolve/index.js';
import { isLicenceAllowed, type PackageRecords } from '../registry/index.js';
import { isShared, alignmentRows, type AlignmentRow } from '../alignment/index.js';
import {
  isBlocking,
  LOCK_FILE,
  ownRangesPolicy,
  placeProblems,
  readWorkspace,
  refusedOwnRanges,
  type PlacedProblem,
  type Requirement,
  type Workspace,
  type WorkspaceFiles,
  type WorkspaceReading,
} from '../workspace/index.js';
import { adoptedAnswers, adoptedOutcome, type AdoptedOutcome } from './adopted.js';
import { applyEdit } from './apply-edit.js';
import type { DraftBase } from './draft-base.js';
import { orderOfEdits } from './order-of-edits.js';
import { overtakenIntegrity } from './overtaken-integrity.js';
import { withEarlierAnswers } from './earlier-answers.js';
import type { EarlierAnswer, Edit, EditProblem } from '../edit/index.js';
import { mergeLockAnswers } from '../merge/index.js';

export interface FileChange {
  readonly path: string;
  /** Null: the file is new. */
  readonly before: string | null;
  readonly after: string;
}

/** How the figures of Alignment for one package come out. */
export interface RowOutcome {
  readonly name: string;
  readonly agreed: string | null;
  readonly off: number;
  readonly copies: number;
}

export interface Consequences {
  /** Packages out of line. */
  readonly outOfLine: readonly [before: number, after: number];
  /** Null before: there was no readable lockfile. */
  readonly copies: readonly [before: number | null, after: number];
  readonly change: ExplainedLockChange;
  /** Hand-written files that change. */
  readonly manifests: number;
  /** Folders of projects whose manifest changes. */
  readonly projects: readonly string[];
  /** Packages that come into line, and that go out of it. */
  readonly levelled: readonly string[];
  readonly unlevelled: readonly string[];
  /** Peers that are met or not otherwise than before. */
  readonly peersMet: readonly UnmetPeer[];
  readonly peersBroken: readonly UnmetPeer[];
  /** Copies under a licence that the policy does not allow, with what they are under. */
  readonly refusedLicences: readonly [before: number, after: readonly RefusedLicence[]];
  /** Copies that it touches while lockfile and registry say different integrities of them: a draft with any is not to be posted. */
  readonly disputed: readonly DisputedCopy[];
  /** Ranges of their own that projects newly write for agreed packages, where the policy refuses them. */
  readonly ownRanges: readonly NewOwnRange[];
  /** Terms that nobody has accepted of copies that it brings: a draft with any is not to be posted. */
  readonly openTerms: readonly OpenTerms[];
  /** Packages that come from another registry than before. */
  readonly otherRegistries: readonly RegistryMove[];
  /** Rows of Alignment that come out otherwise. */
  readonly rows: readonly RowOutcome[];
  /** What became of the versions that the first lockfile was to start from; null: there were none. */
  readonly adopted: AdoptedOutcome | null;
  readonly sum: string;
  /** The lockfile before was not consistent, so the change holds more than the edits led to. */
  readonly lockBefore: LockState['state'];
}

/** A range that a project writes of its own where that is refused. */
export interface NewOwnRange {
  /** Its folder. */
  readonly project: string;
  readonly name: string;
  readonly range: string;
  /** The shared version. */
  readonly agreed: string;
  /** It was refused before the draft already: a draft with any such is not to be posted. */
  readonly isAdded: boolean;
}

/** Where copies of a package come from, before and after. */
export interface RegistryMove {
  readonly name: string;
  readonly from: string;
  readonly to: string;
}

/** A copy under a licence that the policy does not allow; null: the release names none. */
export interface RefusedLicence extends CopyName {
  readonly licence: string | null;
}

/** The workspace as a draft leaves it. */
export interface AfterDraft {
  readonly workspace: Workspace;
  /** With the lockfile. */
  readonly files: WorkspaceFiles;
  /** Of all packages. */
  readonly rows: readonly AlignmentRow[];
  readonly unmetPeers: readonly UnmetPeer[];
}

/** A draft with an answer. */
export interface AnsweredDraft {
  readonly kind: 'answered';
  readonly changes: readonly FileChange[];
  readonly resolution: Resolution;
  readonly after: AfterDraft;
}

/** The outcome of a whole draft. Only an `answered` one can be posted. */
export type Evaluation = (AnsweredDraft & { readonly consequences: Consequences }) | NoAnswer;

/** Why a draft has none. */
type NoAnswer =
  | {
      readonly kind: 'unanswered';
      readonly changes: readonly FileChange[];
      readonly workspace: Workspace;
      readonly unanswered: readonly Unanswered[];
    }
  | {
      readonly kind: 'unreadable';
      readonly changes: readonly FileChange[];
      readonly problems: readonly PlacedProblem[];
    }
  /** Some edits no longer apply; the list has one entry for each edit. */
  | { readonly kind: 'inapplicable'; readonly problems: readonly (EditProblem | null)[] }
  /** Load these packages and evaluate again. */
  | { readonly kind: 'ask'; readonly names: readonly string[] };

/**
 * Makes all edits, resolves the result with the lockfile before, and says what becomes of it.
 * @param made the edits as they were made already; without it they are made here
 * @param watch hears how much the resolution has left to answer; whatever it throws stops the work
 * A pure function. Cost: one answer of the base's engine, and for each edit a reading of the files it changed.
 */
export function evaluateDraft(
  base: DraftBase,
  edits: readonly Edit[],
  made: MadeEdits | null = null,
  watch?: Watch,
): Evaluation {
  const outcome = answerDraft(base, edits, made, watch);
  if (outcome.kind !== 'answered') return outcome;
  return { ...outcome, consequences: consequencesOf(base, outcome) };
}

/** The same without its consequences, for whoever tries many drafts. */
export function answerDraft(
  base: DraftBase,
  edits: readonly Edit[],
  made: MadeEdits | null = null,
  watch?: Watch,
): AnsweredDraft | NoAnswer {
  if (base.workspace === null) {
    return {
      kind: 'unreadable',
      changes: [],
      problems: placeProblems(base.files, base.reading.problems),
    };
  }
  const { files, reading, problems: ofFiles } = made ?? makeEdits(base, base.workspace, edits);
  const problems = ofFiles.map((problem, i) => problem ?? overtakenIntegrity(base, edits[i]!));
  if (problems.some((problem) => problem !== null)) return { kind: 'inapplicable', problems };
  const { workspace } = reading;
  const changes = changedFiles(base, files);
  if (workspace === null || reading.problems.some(isBlocking)) {
    return {
      kind: 'unreadable',
      changes,
      problems: placeProblems(files, reading.problems),
    };
  }
  const outcome = base.engine.resolve({ ...termsOf(base, edits), workspace }, watch);
  switch (outcome.kind) {
    case 'ask':
      return outcome;
    case 'unanswered':
      return {
        kind: 'unanswered',
        changes,
        workspace,
        unanswered: outcome.unanswered,
      };
    case 'answered': {
      const { resolution, unmetPeers } = outcome;
      const withLock = new Map(files).set(LOCK_FILE, printLock(resolution));
      const rows = alignmentRows(workspace, base.records, resolution, base.today);
      return {
        kind: 'answered',
        changes: changedFiles(base, withLock),
        resolution,
        after: { workspace, files: withLock, rows, unmetPeers },
      };
    }
  }
}

function consequencesOf(
  base: DraftBase,
  { changes, resolution, after: { workspace, files, rows, unmetPeers } }: AnsweredDraft,
): Consequences {
  const { records, today } = base;
  const old = base.workspace!;
  const before = base.lock?.resolution ?? null;
  const manifests = changes.filter(({ path }) => path !== LOCK_FILE);
  return {
    outOfLine: [countOff(base.rows), countOff(rows)],
    copies: [before?.copies.length ?? null, resolution.copies.length],
    change: explainLockChange(before, resolution),
    manifests: manifests.length,
    projects: workspace.projects
      .filter(({ file }) => manifests.some(({ path }) => path === file))
      .map(({ folder }) => folder),
    levelled: offNames(base.rows, rows),
    unlevelled: offNames(rows, base.rows),
    peersMet: peersWithout(base.unmetPeers(), unmetPeers),
    peersBroken: peersWithout(unmetPeers, base.unmetPeers()),
    refusedLicences: [
      refusedLicences(old, records, before).length,
      refusedLicences(workspace, records, resolution),
    ],
    disputed: touchedDisputes(disputedCopies(records, resolution), before, resolution),
    ownRanges: newOwnRanges(old, workspace, today),
    openTerms: openTerms(workspace, records, resolution, before),
    otherRegistries: registryMoves(before, resolution),
    rows: changedRows(base.rows, rows),
    adopted: base.lock?.resolution == null ? adoptedOutcome(workspace, records, resolution) : null,
    sum: lockSum(files.get(LOCK_FILE)!),
    lockBefore: base.lock?.state ?? 'broken',
  };
}

/** What a draft asks of the engine, beside its workspace. */
export function termsOf(base: DraftBase, edits: readonly Edit[]): Omit<Question, 'workspace'> {
  const renewed = edits.flatMap((edit) => (edit.kind === 'refresh' ? [edit.packages] : []));
  const earlier = edits.flatMap((edit) => (edit.kind === 'take-back' ? edit.answers : []));
  const picked = edits.flatMap((edit) =>
    edit.kind === 're-pick' ? [edit] : edit.kind === 'upgrade' ? edit.moves : [],
  );
  const held = withEarlierAnswers(base.lock?.resolution ?? bothSides(base), [
    ...installed(base),
    ...earlier,
  ]);
  const terms = {
    asOf: base.today,
    before: held,
    rePicks: picked.map(({ package: name, from, to }) => ({ name, from, to })),
    takenIntegrities: edits.flatMap((edit) =>
      edit.kind === 'take-integrity' ? [{ ...edit, name: edit.package }] : [],
    ),
  };
  if (renewed.length === 0) return terms;
  const isAll = renewed.some((packages) => packages.length === 0);
  return { ...terms, refresh: isAll ? 'all' : new Set(renewed.flat()) };
}

/** Without a lockfile: the versions that are installed by other means. */
function installed({ workspace, records, lock }: DraftBase): readonly EarlierAnswer[] {
  return workspace === null || lock?.resolution != null ? [] : adoptedAnswers(workspace, records);
}

/** With a lockfile that has the marks of an unfinished merge: the answers of both sides. */
function bothSides({ files }: DraftBase): Resolution | null {
  const ours = files.get(LOCK_FILE);
  if (ours === undefined) return null;
  const both = mergeLockAnswers({ base: undefined, ours, theirs: undefined });
  return both.copies.length === 0 ? null : both;
}

function refusedLicences(
  { policy: { licences } }: Workspace,
  records: PackageRecords,
  resolution: Resolution | null,
): readonly RefusedLicence[] {
  if (licences.length === 0 || resolution === null) return [];
  return resolution.copies.flatMap(({ name, version }): RefusedLicence[] => {
    const release = records.get(name)?.releases.find(({ text }) => text === version);
    const licence = release?.licence ?? null;
    return isLicenceAllowed(licence, licences) ? [] : [{ name, version, licence }];
  });
}

function newOwnRanges(before: Workspace, after: Workspace, today: string): readonly NewOwnRange[] {
  const keyOf = ({ project, kind, name, written }: Requirement): string =>
    `${project} ${kind} ${name} ${written}`;
  const known = new Set(
    refusedOwnRanges(before, today).map(({ requirement }) => keyOf(requirement)),
  );
  const names = new Map(before.projects.map(({ folder, name }) => [folder, name]));
  return refusedOwnRanges(after, today)
    .filter(({ requirement }) => !known.has(keyOf(requirement)))
    .map(({ requirement: { project: folder, name, written }, agreed }) => ({
      project: folder,
      name,
      range: written,
      agreed,
      isAdded:
        ownRangesPolicy(before.policy, { folder, name: names.get(folder) ?? '' }) === 'refused',
    }));
}

function registryMoves(before: Resolution | null, after: Resolution): readonly RegistryMove[] {
  const was = new Map(before?.copies.map(({ name, registry }) => [name, registry]));
  const moves = new Map<string, RegistryMove>();
  for (const { name, registry: to } of after.copies) {
    const from = was.get(name);
    if (from !== undefined && from !== to) moves.set(name, { name, from, to });
  }
  return [...moves.values()];
}

/** Packages out of line, of those that two or more projects require. */
function countOff(rows: readonly AlignmentRow[]): number {
  return rows.filter((row) => row.off > 0 && isShared(row)).length;
}

/** Names that are out of line in the first rows alone. */
function offNames(
  rows: readonly AlignmentRow[],
  others: readonly AlignmentRow[],
): readonly string[] {
  const still = new Set(others.flatMap(({ name, off }) => (off > 0 ? [name] : [])));
  return rows.flatMap(({ name, off }) => (off > 0 && !still.has(name) ? [name] : [])).sort();
}

/** The unmet peers of the first list that are not in the second. */
export function peersWithout(
  peers: readonly UnmetPeer[],
  others: readonly UnmetPeer[],
): readonly UnmetPeer[] {
  const keyOf = ({ copy, name, range, provider }: UnmetPeer): string =>
    `${copy} ${name} ${range} ${provider}`;
  const known = new Set(others.map(keyOf));
  return peers.filter((peer) => !known.has(keyOf(peer)));
}

function changedRows(
  before: readonly AlignmentRow[],
  after: readonly AlignmentRow[],
): readonly RowOutcome[] {
  const old = new Map(before.map((row) => [row.name, row]));
  return after.flatMap(({ name, agreed, off, copies }) => {
    const was = old.get(name);
    const isSame = was?.agreed === agreed && was.off === off && was.copies === copies;
    return isSame ? [] : [{ name, agreed, off, copies }];
  });
}

export interface MadeEdits {
  readonly files: WorkspaceFiles;
  readonly reading: WorkspaceReading;
  readonly problems: readonly (EditProblem | null)[];
}

/** The files with all edits made in the order of `orderOfEdits`, one entry for each edit that says why it cannot be made. */
export function makeEdits(
  base: Pick<DraftBase, 'files' | 'reading'>,
  start: Workspace,
  edits: readonly Edit[],
): MadeEdits {
  let { files, reading } = base;
  const problems = edits.map((): EditProblem | null => null);
  for (const i of orderOfEdits(start, edits)) {
    const outcome = applyEdit(reading.workspace ?? start, files, edits[i]!);
    if (outcome.ok) {
      files = outcome.files;
      reading = readWorkspace(files, reading);
    } else problems[i] = outcome.problem;
  }
  return { files, reading, problems };
}

/** Files that are new or differ, sorted by path, the lockfile last. */
function changedFiles(
  { files, unwritten }: Pick<DraftBase, 'files' | 'unwritten'>,
  after: WorkspaceFiles,
): readonly FileChange[] {
  const before = (path: string): string | null =>
    unwritten.has(path) ? null : (files.get(path) ?? null);
  return [...after]
    .filter(([path, text]) => before(path) !== text)
    .map(([path, text]) => ({ path, before: before(path), after: text }))
    .sort((a, b) => {
      const isLock = Number(a.path === LOCK_FILE) - Number(b.path === LOCK_FILE);
      return isLock || (a.path < b.path ? -1 : 1);
    });
}
