import { join } from 'node:path';
import {
  adoptedBefore,
  adoptedOutcome,
  checkLock,
  disputedCopies,
  Engine,
  explainLockChange,
  isBlocking,
  loadPackages,
  mergeLockAnswers,
  LOCK_FILE,
  placeProblems,
  printLock,
  readWorkspace,
  requiredPackages,
  suggestFixes,
  type AdoptedOutcome,
  type PackageRecords,
  type Question,
  type Resolution,
  type ResolveOutcome,
  type TakenIntegrity,
  type Workspace,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { changeWords } from './change-words.js';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import { answeredJson, problemsJson, unansweredJson } from './lock-json.js';
import { lockSum } from './lock-sum.js';
import type { Output } from './output.js';
import { registrySource, type RegistryOptions } from './registry-source.js';
import { replaceFile } from './replace-file.js';
import { readWorkTree } from './work-tree.js';

export interface LockOptions extends RegistryOptions {
  /** Folder of the work tree. */
  readonly in: string;
  /** YYYY-MM-DD: the last day whose releases count. */
  readonly asOf: string;
  /** Packages whose answers before do not bind; true: all. */
  readonly refresh?: true | readonly string[];
  /** Packages of whose copies the registry's integrity is taken where the lockfile has another. */
  readonly takeIntegrity?: readonly string[];
  readonly dryRun?: true;
  /** Throw away what the lockfile has. */
  readonly fromNothing?: true;
  readonly json?: true;
  /** Also look for copies that could go by picking other releases. */
  readonly needless?: true;
}

/** Resolves the work tree and writes `ledger.lock`. @returns the exit code */
export async function lockCommand(options: LockOptions, output: Output): Promise<number> {
  const files = await readWorkTree(options.in, output.complain);
  const { workspace, problems } = readWorkspace(files);
  if (!options.json || workspace === null) {
    for (const { place, message } of placeProblems(files, problems))
      output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
  }
  if (workspace === null || problems.some(isBlocking)) {
    if (options.json) output.say(problemsJson(placeProblems(files, problems)));
    return EXIT.unreadable;
  }
  const before = heldAnswers(workspace, files, options, output);
  if (before === 'nothing-kept') return EXIT.unreadable;
  output.progress('reading the registry');
  const records = await loadPackages(
    requiredPackages(workspace),
    await registrySource(options, workspace, output.complain),
  );
  const unknown =
    options.refresh === true ? [] : (options.refresh ?? []).filter((name) => !records.has(name));
  if (unknown.length > 0) {
    output.complain(`Nothing here requires ${unknown.join(', ')}, so there is nothing to refresh.`);
    return EXIT.unreadable;
  }
  const takenIntegrities = before === null ? [] : disputes(records, before, options, output);
  const question: Question = {
    workspace,
    asOf: options.asOf,
    before: before ?? (options.fromNothing === true ? null : adoptedBefore(workspace, records)),
    takenIntegrities,
    refresh: options.refresh === true ? 'all' : new Set(options.refresh),
  };
  const engine = new Engine(records);
  output.progress('resolving');
  const outcome = engine.resolve(question);
  output.progress(null);
  switch (outcome.kind) {
    case 'ask':
      throw new Error(`records not loaded: ${outcome.names.join(', ')}`);
    case 'unanswered':
      tellUnanswered(engine, question, outcome, options, output);
      return EXIT.stale;
    case 'answered': {
      const text = printLock(outcome.resolution);
      const isWritten = text !== files.get(LOCK_FILE) && options.dryRun !== true;
      if (isWritten) await replaceFile(join(options.in, LOCK_FILE), text);
      if (options.json)
        output.say(
          answeredJson(engine, question, outcome, {
            isWritten,
            sum: lockSum(text),
            withNeedless: options.needless === true,
          }),
        );
      else if (text === files.get(LOCK_FILE))
        output.say(`${LOCK_FILE} is consistent already (sum ${lockSum(text).slice(0, 8)}).`);
      else {
        tellChange({ ...question, before }, outcome, text, isWritten, output);
        if (before === null && options.fromNothing !== true)
          tellAdopted(adoptedOutcome(workspace, records, outcome.resolution), output);
      }
      return EXIT.ok;
    }
  }
}

/** Tells what became of the versions that were installed by other means. */
function tellAdopted(outcome: AdoptedOutcome | null, output: Output): void {
  if (outcome === null) return;
  const { kept, changed } = outcome;
  output.say(
    `Of the versions that were installed, ${kept} stay${kept === 1 ? 's' : ''}${changed.length === 0 ? '.' : ` and ${changed.length} ${changed.length === 1 ? 'does' : 'do'} not:`}`,
  );
  for (const { name, from, to, why } of changed)
    output.say(`  ${name} ${from} → ${to.length === 0 ? 'gone' : to.join(', ')}  ${why}`);
}

/** Tells of copies whose integrity the registry says otherwise. @returns those of which its own is taken */
function disputes(
  records: PackageRecords,
  before: Resolution,
  { takeIntegrity = [] }: LockOptions,
  output: Output,
): readonly TakenIntegrity[] {
  return disputedCopies(records, before).flatMap(({ name, version, locked, offered }) => {
    const isTaken = takeIntegrity.includes(name);
    output.complain(
      `${name} ${version}: the lockfile has ${locked}, the registry says ${offered}. ${
        isTaken
          ? "The registry's is taken."
          : `The lockfile's stands; --take-integrity ${name} takes the registry's.`
      }`,
    );
    return isTaken ? [{ name, version, integrity: offered }] : [];
  });
}

/**
 * What the lockfile has for the resolution to hold on to. From a lockfile that cannot be read it takes the blocks that
 * can; from one with the marks of a merge it takes both sides. It leaves alone a lockfile in a newer format, and one of
 * which nothing can be read.
 */
function heldAnswers(
  workspace: Workspace,
  files: WorkspaceFiles,
  { fromNothing }: LockOptions,
  output: Output,
): Resolution | null | 'nothing-kept' {
  const text = files.get(LOCK_FILE);
  const { state, reasons, resolution } = checkLock(workspace, files);
  if (state !== 'broken' || text === undefined) return fromNothing === true ? null : resolution;
  for (const { message, place } of reasons)
    output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
  if (fromNothing === true) {
    output.complain('What it has is thrown away; resolving from nothing.');
    return null;
  }
  const kept = mergeLockAnswers({ base: undefined, ours: text, theirs: undefined });
  if (kept.projects.length + kept.copies.length === 0) {
    output.complain(
      'Nothing of it can be read, so it is left as it is. --from-nothing throws it away and resolves from nothing.',
    );
    return 'nothing-kept';
  }
  output.complain(
    `${count(kept.projects.length + kept.copies.length, 'block')} of it can be read and are kept where they still answer.`,
  );
  return kept;
}

function tellUnanswered(
  engine: Engine,
  question: Question,
  { unanswered }: Extract<ResolveOutcome, { kind: 'unanswered' }>,
  options: LockOptions,
  output: Output,
): void {
  output.progress('looking for what would give an answer');
  const fixes = suggestFixes(engine, question, unanswered);
  output.progress(null);
  if (options.json) {
    output.say(unansweredJson(question, unanswered, fixes));
    return;
  }
  output.complain('No lockfile answers these manifests; nothing was written.');
  unanswered.forEach(({ sentences }, i) => {
    output.complain(`\n${sentences.join('\n')}`);
    const ways = fixes.ofCause[i]!;
    if (ways.length === 0) return;
    output.complain(ways.length === 1 ? 'Suggested fix:' : 'Suggested fixes, any one of them:');
    for (const { sentence } of ways) output.complain(`- ${sentence}`);
  });
  if (fixes.together !== null)
    output.complain(`\nAll of it at once:\n- ${fixes.together.sentence}`);
}

function tellChange(
  { before }: Question,
  { resolution, unmetPeers }: Extract<ResolveOutcome, { kind: 'answered' }>,
  text: string,
  isWritten: boolean,
  output: Output,
): void {
  for (const one of explainLockChange(before, resolution).because) output.say(changeWords(one));
  for (const { copy, name, range, provider, version } of unmetPeers)
    output.say(
      `peer   ${copy} asks for ${name} ${range} beside it; ${provider} has ${version ?? 'none'}`,
    );
  const verb = isWritten ? 'written' : 'would be written';
  output.say(
    `${LOCK_FILE} ${verb}: ${count(resolution.copies.length, 'copy', 'copies')}, sum ${lockSum(text).slice(0, 8)}.`,
  );
}
