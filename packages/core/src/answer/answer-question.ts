import {
  clearEverything,
  endOfAnswer,
  evaluateDraft,
  findingsAfter,
  findingsChange,
  fixEdits,
  lookForNeedless,
  standOfBase,
  termsOf,
  triedRemedies,
  type Consequences,
  type DraftBase,
  type Evaluation,
  type Known,
} from '../draft/index.js';
import type { Edit } from '../edit/index.js';
import { causesOf, figuresOf, findAll, mutesOf, type Finding } from '../findings/index.js';
import { linksOnlyIn } from '../graph/index.js';
import {
  filteredRows,
  KeptTrials,
  offersUpTo,
  upgradeBatch,
  upgradeRows,
  UpgradeTrials,
} from '../upgrade/index.js';
import { certify, suggestFixes, type SuggestedFix } from '../resolve/index.js';
import type {
  Answers,
  CauseFixes,
  DraftAnswer,
  DraftOutcome,
  FoundFindings,
  QuestionOf,
  WhySeveral,
  WorkspaceQuestion,
} from './question.js';

/** A workspace at a commit, with what is known of it beside its files. */
export interface AskedWorkspace {
  readonly base: DraftBase;
  readonly known: Known;
  /** Of the same base: outcomes that are known from before; without it there are none. */
  readonly trials?: KeptTrials;
}

/** Hears how far the work is; a total of 0: not known. Whatever it throws stops the work. */
export type Progress = (done: number, total: number) => void;

/** Drafts longer than this are not searched for the edit that ends their answer. */
const MOST_LOOKED_AT = 30;
const MOST_LINKS = 500;

type Answering = {
  readonly [K in WorkspaceQuestion['kind']]: (
    asked: AskedWorkspace,
    question: QuestionOf<K>,
    progress: Progress,
  ) => Answers[K];
};

const ANSWERING: Answering = {
  draft: (asked, { edits }, progress) => draftAnswer(asked, edits, progress),
  'suggested-fixes': ({ base }, { edits }) => suggestedFixes(base, edits),
  findings: ({ base, known }) => {
    const stand = standOfBase(base, known);
    const findings = findingsBefore({ base, known });
    return {
      findings,
      causes: causesOf(stand, findings),
      figures: figuresOf(stand, unmuted(base, findings)),
      scanned: scannedOf(known),
    };
  },
  remedies: ({ base, known }, _, progress) =>
    triedRemedies(base, known, findingsBefore({ base, known }), progress),
  several: ({ base }, question) => whySeveral(base, question.package),
  clearing: ({ base, known }, { ticked }, progress) =>
    clearEverything(base, known, (tried) => progress(tried, 0), new Set(ticked)),
  'upgrade-trials': ({ base, trials = new KeptTrials(base) }, { upgrades }, progress) =>
    upgrades.map((moves, i) => {
      progress(i, upgrades.length);
      return trials.try(moves);
    }),
  'upgrade-batch': ({ base, trials }, { take, olderThanDays, filter }, progress) => {
    const rows = filteredRows(upgradeRows(base, olderThanDays), filter);
    const choices = offersUpTo(rows, take);
    return upgradeBatch(
      new UpgradeTrials(base),
      choices,
      (best) => progress(best.length, choices.length),
      trials === undefined ? undefined : (moves) => trials.watched(moves),
    );
  },
};

/** Works out what is asked. A pure function; it runs on whichever thread or machine has the time. */
export function answerQuestion<K extends WorkspaceQuestion['kind']>(
  asked: AskedWorkspace,
  question: QuestionOf<K>,
  progress: Progress = () => undefined,
): Answers[K] {
  return ANSWERING[question.kind as K](asked, question, progress);
}

function draftAnswer(
  { base, known }: AskedWorkspace,
  edits: readonly Edit[],
  progress: Progress,
): DraftAnswer {
  const evaluation = evaluateDraft(base, edits, null, ofWhatIsLeft(progress));
  if (evaluation.kind === 'ask') return evaluation;
  const isLookedFor = evaluation.kind === 'unanswered' && edits.length <= MOST_LOOKED_AT;
  const after = findingsAfter(base, evaluation, known);
  return {
    kind: 'settled',
    outcome: outcomeOf(base, evaluation),
    endOfAnswer: isLookedFor ? endOfAnswer(base, edits) : null,
    findings: after === null ? null : findingsChange(findingsBefore({ base, known }), after),
  };
}

function outcomeOf(
  { lock, records }: DraftBase,
  evaluation: Exclude<Evaluation, { kind: 'ask' }>,
): DraftOutcome {
  const before = lock?.resolution ?? null;
  switch (evaluation.kind) {
    case 'answered':
      return {
        kind: 'answered',
        changes: changed(evaluation),
        consequences: evaluation.consequences,
        bytes: bytesOf(records, evaluation.consequences.change),
        gained: linksOnlyIn(evaluation.resolution, before).slice(0, MOST_LINKS),
        lost:
          before === null ? [] : linksOnlyIn(before, evaluation.resolution).slice(0, MOST_LINKS),
      };
    case 'unanswered':
      return {
        kind: 'unanswered',
        changes: changed(evaluation),
        explanations: evaluation.unanswered.map(({ sentences }) => sentences),
      };
    case 'unreadable':
      return {
        kind: 'unreadable',
        changes: changed(evaluation),
        problems: evaluation.problems,
      };
    case 'inapplicable':
      return {
        kind: 'inapplicable',
        problems: evaluation.problems.map((one) => one?.message ?? null),
      };
  }
}

/** Here, where the documents of packages that only the draft names are known too. */
function bytesOf(
  records: DraftBase['records'],
  { entered, left, moved }: Consequences['change'],
): number {
  const of = (name: string, version: string): number =>
    records.get(name)?.releases.find(({ text }) => text === version)?.archive.bytes ?? 0;
  let sum = 0;
  for (const { name, version } of entered) sum += of(name, version);
  for (const { name, version } of left) sum -= of(name, version);
  for (const { name, from, to } of moved) sum += of(name, to) - of(name, from);
  return sum;
}

function changed({ changes }: Extract<Evaluation, { changes: unknown }>) {
  return changes.map(({ path, after }) => ({ path, after }));
}

const ALL_CAUSES = 'Everything at once, one fix for each cause:';

/** For each cause that leaves a draft without an answer, the changes that would clear it. Resolves many times. */
function suggestedFixes(base: DraftBase, edits: readonly Edit[]): readonly CauseFixes[] {
  const evaluation = evaluateDraft(base, edits);
  if (evaluation.kind !== 'unanswered') return [];
  const { workspace, unanswered } = evaluation;
  const question = { ...termsOf(base, edits), workspace };
  const { ofCause, together } = suggestFixes(base.engine, question, unanswered);
  const way = (fix: SuggestedFix) => ({ sentence: fix.sentence, edits: fixEdits(workspace, fix) });
  return [
    ...(together === null ? [] : [{ about: [ALL_CAUSES], ways: [way(together)] }]),
    ...ofCause.map((fixes, i) => ({
      about: unanswered[i]!.sentences.slice(0, 1),
      ways: fixes.map(way),
    })),
  ];
}

function whySeveral(base: DraftBase, name: string): WhySeveral {
  const { workspace, records, today, lock } = base;
  const resolution = lock?.resolution ?? null;
  if (workspace === null || resolution === null) return { least: 1, forcedBy: [], needless: [] };
  const [certificate] = certify(workspace, records, today, resolution, name).packages;
  return {
    least: certificate?.least ?? 1,
    forcedBy: certificate?.demands ?? [],
    needless: lookForNeedless(base, name) ?? [],
  };
}

const findingsOf = new WeakMap<DraftBase, { known: Known; findings: readonly Finding[] }>();

/** The findings as things stand, kept for as long as the base is. */
function findingsBefore({ base, known }: AskedWorkspace): readonly Finding[] {
  const kept = findingsOf.get(base);
  if (kept?.known === known) return kept.findings;
  const findings = findAll(standOfBase(base, known));
  findingsOf.set(base, { known, findings });
  return findings;
}

function scannedOf({ use }: Known): FoundFindings['scanned'] {
  if (use === null) return null;
  const all = [...use.values()];
  return {
    files: all.reduce((sum, { files }) => sum + files, 0),
    unseen: all.reduce((sum, { unseen }) => sum + unseen.length, 0),
  };
}

function unmuted({ workspace, today }: DraftBase, findings: readonly Finding[]) {
  const muted = mutesOf(workspace, today);
  return findings.filter(({ id }) => !muted.has(id));
}

/** The engine tells how much is left; the most that was left is taken for the whole. */
function ofWhatIsLeft(progress: Progress): (left: number) => void {
  let most = 0;
  return (left) => {
    most = Math.max(most, left);
    progress(most - left, most);
  };
}
