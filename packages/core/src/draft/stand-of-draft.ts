import { findAll, type Finding, type Stand } from '../findings/index.js';
import { needlessCopies, type NeedlessCopy } from '../resolve/index.js';
import type { SourceUse } from '../scan/index.js';
import { placeProblems } from '../workspace/index.js';
import type { DraftBase } from './draft-base.js';
import type { AnsweredDraft, Evaluation } from './evaluate-draft.js';

/** What is known beside a draft's base and raises findings. */
export interface Known {
  /** Null: source was not scanned. */
  readonly use: SourceUse | null;
  /** Copies that were found needless by resolving; null: nobody looked. */
  readonly needless: readonly NeedlessCopy[] | null;
}

/** Is there a record of every package that is asked for? */
function isWhole({ records }: DraftBase): boolean {
  return [...records.values()].every((record) => record !== null);
}

/**
 * Copies that are needless, found by trying; null: there is nothing to try with. The one function behind what pages
 * and command line say of forced and needless copies.
 * @param only the one package that is looked at
 * @param watch hears how many copies are still to be looked at; whatever it throws stops the work
 */
export function lookForNeedless(
  base: DraftBase,
  only?: string,
  watch?: (left: number) => void,
): Known['needless'] {
  const { workspace, lock, engine, today } = base;
  const resolution = lock?.resolution ?? null;
  if (workspace === null || resolution === null || !isWhole(base)) return null;
  return needlessCopies(engine, { workspace, asOf: today }, resolution, only, watch);
}

/** What findings are raised from as things stand. Cost of the first: one resolution, for peers. */
export function standOfBase(base: DraftBase, { use, needless }: Known): Stand {
  const { files, workspace, lock, records, today, rows } = base;
  return {
    files,
    problems: placeProblems(files, base.reading.problems),
    workspace,
    lock,
    records,
    today,
    rows,
    unmetPeers: base.unmetPeers(),
    use,
    needless,
  };
}

/** What findings are raised from once a draft is posted. */
export function standAfterDraft(
  { records, today }: DraftBase,
  { after, resolution }: AnsweredDraft,
  { use, needless }: Known,
): Stand {
  return {
    ...after,
    problems: [],
    lock: { state: 'consistent', reasons: [], resolution },
    records,
    today,
    use,
    needless,
  };
}

/** How findings come out after a draft. */
export interface FindingsChange {
  readonly cleared: readonly Finding[];
  readonly raised: readonly Finding[];
  readonly left: number;
}

/** Findings that a draft clears and raises, by their names. Cost: the findings of both stands. */
export function findingsChange(
  before: readonly Finding[],
  after: readonly Finding[],
): FindingsChange {
  const old = new Set(before.map(({ id }) => id));
  const now = new Set(after.map(({ id }) => id));
  return {
    cleared: before.filter(({ id }) => !now.has(id)),
    raised: after.filter(({ id }) => !old.has(id)),
    left: after.length,
  };
}

/** The findings after a draft; null where it has no answer. */
export function findingsAfter(
  base: DraftBase,
  evaluation: Evaluation,
  known: Known,
): readonly Finding[] | null {
  if (evaluation.kind !== 'answered') return null;
  return findAll(standAfterDraft(base, evaluation, known));
}
