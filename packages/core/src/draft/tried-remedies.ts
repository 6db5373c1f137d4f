import {
  findAll,
  mutesOf,
  rankRemedies,
  type Finding,
  type RankedRemedy,
} from '../findings/index.js';
import type { DraftBase } from './draft-base.js';
import { evaluateDraft } from './evaluate-draft.js';
import { findingsAfter, findingsChange, standOfBase, type Known } from './stand-of-draft.js';

/** A remedy with what evaluating it gives. */
export interface TriedRemedy extends RankedRemedy {
  /** Names of the findings that are gone with it; at least one. */
  readonly clears: readonly string[];
  /** Names of those that are new. */
  readonly raises: readonly string[];
}

/** How many remedies are tried out; first those that claim the most. */
const MOST_TRIED = 24;

/**
 * The remedies of open findings as evaluating each of them by itself comes out, the best first: a remedy that has no
 * answer or clears nothing is left out.
 * @param findings as things stand
 * @param watch hears how many were tried, and of how many; whatever it throws stops the work
 * Cost: an evaluation and the findings for each that is tried.
 */
export function triedRemedies(
  base: DraftBase,
  known: Known,
  findings: readonly Finding[] = findAll(standOfBase(base, known)),
  watch: (done: number, total: number) => void = () => undefined,
): readonly TriedRemedy[] {
  const muted = mutesOf(base.workspace, base.today);
  const candidates = rankRemedies(findings.filter(({ id }) => !muted.has(id))).slice(0, MOST_TRIED);
  return candidates
    .flatMap((remedy, i): TriedRemedy[] => {
      watch(i, candidates.length);
      const after = findingsAfter(base, evaluateDraft(base, remedy.edits), known);
      if (after === null) return [];
      const { cleared, raised } = findingsChange(findings, after);
      const clears = cleared.filter(({ id }) => !muted.has(id)).map(({ id }) => id);
      return clears.length === 0 ? [] : [{ ...remedy, clears, raises: raised.map(({ id }) => id) }];
    })
    .sort((a, b) => worth(b) - worth(a));
}

function worth({ clears, raises, touches }: TriedRemedy): number {
  return (clears.length - raises.length) / Math.sqrt(1 + touches);
}
