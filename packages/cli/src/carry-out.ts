import {
  describeEdit,
  draftBase,
  evaluateDraft,
  LOCK_FILE,
  loadPackages,
  requiredPackages,
  suggestFixes,
  termsOf,
  type DraftBase,
  type Edit,
  type Evaluation,
} from '@deep-ledger/core';
import { acceptTerms } from './accept-terms.js';
import { changeWords } from './change-words.js';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import type { BaseOptions } from './load-base.js';
import { lockSum } from './lock-sum.js';
import type { Output } from './output.js';
import { registrySource } from './registry-source.js';
import { replaceAll } from './replace-all.js';

export interface CarryOutOptions extends BaseOptions {
  readonly dryRun?: true;
  /** Ids of terms that the person accepts. */
  readonly accept?: readonly string[];
}

/**
 * Makes edits on a work tree and locks the result: all of it, or, where it has no answer, nothing.
 * @returns the exit code
 */
export async function carryOut(
  start: DraftBase,
  edits: readonly Edit[],
  options: CarryOutOptions,
  output: Output,
): Promise<number> {
  const { base, evaluation } = await evaluated(start, edits, options, output);
  output.progress(null);
  switch (evaluation.kind) {
    case 'answered': {
      const { openTerms } = evaluation.consequences;
      const accepted = await acceptTerms(base, openTerms, options.accept ?? [], options.in, output);
      if ('code' in accepted) return accepted.code;
      if (accepted.edits.length === 0)
        return tellAnswered(base, edits, evaluation, options, output);
      return carryOut(base, [...edits, ...accepted.edits], options, output);
    }
    case 'unanswered': {
      output.complain('Nothing answers the manifests then; nothing was written.');
      output.progress('looking for what would give an answer');
      const question = { ...termsOf(base, edits), workspace: evaluation.workspace };
      const fixes = suggestFixes(base.engine, question, evaluation.unanswered);
      output.progress(null);
      evaluation.unanswered.forEach(({ sentences }, i) => {
        output.complain(`\n${sentences.join('\n')}`);
        for (const { sentence } of fixes.ofCause[i] ?? []) output.complain(`- ${sentence}`);
      });
      return EXIT.stale;
    }
    case 'inapplicable':
      for (const problem of evaluation.problems)
        if (problem !== null) output.complain(problem.message);
      output.complain('Nothing was written.');
      return EXIT.unreadable;
    case 'unreadable':
      for (const { place, message } of evaluation.problems)
        output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
      output.complain('Nothing was written.');
      return EXIT.unreadable;
    case 'ask':
      throw new Error(`records not loaded: ${evaluation.names.join(', ')}`);
  }
}

/** The outcome, with the documents of packages that the edits bring in. */
async function evaluated(
  start: DraftBase,
  edits: readonly Edit[],
  options: CarryOutOptions,
  output: Output,
): Promise<{ readonly base: DraftBase; readonly evaluation: Evaluation }> {
  output.progress('resolving');
  const first = evaluateDraft(start, edits);
  if (first.kind !== 'ask') return { base: start, evaluation: first };
  const workspace = start.workspace!;
  output.progress('reading the registry');
  const records = await loadPackages(
    [...requiredPackages(workspace), ...first.names],
    await registrySource(options, workspace, output.complain),
  );
  const base = draftBase(start.files, records, start.today, start.reading);
  output.progress('resolving');
  return { base, evaluation: evaluateDraft(base, edits) };
}

async function tellAnswered(
  base: DraftBase,
  edits: readonly Edit[],
  { changes, consequences, resolution }: Extract<Evaluation, { kind: 'answered' }>,
  options: CarryOutOptions,
  output: Output,
): Promise<number> {
  if (changes.length === 0) {
    output.say('Nothing changes.');
    return EXIT.ok;
  }
  const isWritten = options.dryRun !== true;
  if (isWritten) await replaceAll(options.in, changes);
  for (const edit of edits) {
    const { subject, verb, from, to } = describeEdit(base.workspace, edit);
    output.say(
      `${subject}: ${verb} ${[from, to].filter((one) => one !== null).join(' -> ')}`.trim(),
    );
  }
  for (const one of consequences.change.because) output.say(changeWords(one));
  for (const { copy, name, range, provider, version } of consequences.peersBroken)
    output.say(
      `peer   ${copy} asks for ${name} ${range} beside it; ${provider} has ${version ?? 'none'}`,
    );
  const verb = isWritten ? 'written' : 'would be written';
  const others = changes.map(({ path }) => path).filter((path) => path !== LOCK_FILE);
  output.say(
    `${[...others, LOCK_FILE].join(', ')} ${verb}: ${count(resolution.copies.length, 'copy', 'copies')}, sum ${lockSum(changes.at(-1)!.after).slice(0, 8)}.`,
  );
  return EXIT.ok;
}
