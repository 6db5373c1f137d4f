import {
  certify,
  copyKey,
  explainLockChange,
  needlessCopies,
  type Change,
  type Engine,
  type PlacedProblem,
  type Question,
  type SuggestedFix,
  type SuggestedFixes,
  type Requirement,
  type Resolution,
  type ResolveOutcome,
  type Unanswered,
} from '@deep-ledger/core';

/*
 * What `lock --json` prints; docs/schemas/answer.schema.json describes it. Fields may be added; what is there
 * keeps its meaning while `format` stays.
 */
const FORMAT = 1;

/** @returns JSON text */
export function answeredJson(
  engine: Engine,
  { workspace, asOf, before }: Question,
  { resolution, unmetPeers }: Extract<ResolveOutcome, { kind: 'answered' }>,
  more: { readonly isWritten: boolean; readonly sum: string; readonly withNeedless: boolean },
): string {
  const needless = more.withNeedless
    ? needlessCopies(engine, { workspace, asOf }, resolution).map((one) => ({
        ...one,
      }))
    : null;
  return JSON.stringify({
    format: FORMAT,
    kind: 'answered',
    asOf,
    written: more.isWritten,
    sum: more.sum,
    ...resolution,
    skips: skipsOf(resolution),
    unmetPeers,
    certificates: certify(workspace, engine.records, asOf, resolution),
    needless,
    change: explainLockChange(before, resolution),
  });
}

function skipsOf({ projects, copies }: Resolution) {
  const owners = [
    ...projects.map(({ folder, requirements }) => ({ owner: folder, requirements })),
    ...copies.map((copy) => ({ owner: copyKey(copy), requirements: copy.requirements })),
  ];
  return owners.flatMap(({ owner, requirements }) =>
    requirements.flatMap(({ kind, name, range, answer }) =>
      answer.kind === 'skipped' ? [{ owner, kind, name, range, reason: answer.reason }] : [],
    ),
  );
}

/** @returns JSON text */
export function unansweredJson(
  { asOf }: Question,
  unanswered: readonly Unanswered[],
  { ofCause, together }: SuggestedFixes,
): string {
  return JSON.stringify({
    format: FORMAT,
    kind: 'unanswered',
    asOf,
    explanations: unanswered.map(({ requirements, isAlone, sentences }, i) => ({
      together: !isAlone,
      requirements: requirements.map(placedRequirement),
      sentences,
      fixes: ofCause[i]!.map(fixJson),
    })),
    together: together === null ? null : fixJson(together),
  });
}

function fixJson({ sentence, changes }: SuggestedFix) {
  return { sentence, changes: changes.map(changeJson) };
}

function placedRequirement({ project, kind, name, written, meaning, file, line }: Requirement) {
  const range = meaning.kind === 'range' ? meaning.text : null;
  return { project, kind, name, written, range, file, line };
}

function changeJson(change: Change) {
  return change.kind === 'range'
    ? { ...change, requirements: change.requirements.map(placedRequirement) }
    : change;
}

/** @returns JSON text */
export function problemsJson(problems: readonly PlacedProblem[]): string {
  return JSON.stringify({
    format: FORMAT,
    kind: 'unreadable',
    problems: problems.map(({ code, message, place }) => ({ code, message, ...place })),
  });
}
