import { readFile } from 'node:fs/promises';
import {
  LOCK_FILE,
  loadPackages,
  mergeLockAnswers,
  mergeFile,
  printLock,
  requiredPackages,
  resolve,
  type Shapes,
  type ThreeTexts,
} from '@deep-ledger/core';
import { conflictWords } from './conflict-words.js';
import { EXIT } from './exit-codes.js';
import { filesOfTree } from './git/git-files.js';
import { mergedTree, WITHIN } from './git/merged-tree.js';
import { usableWorkspace } from './usable-workspace.js';
import type { Output } from './output.js';
import { registrySource, type RegistryOptions } from './registry-source.js';
import { replaceFile } from './replace-file.js';
import { shapesHere } from './shapes-here.js';

export interface MergeDriverOptions extends RegistryOptions {
  /** YYYY-MM-DD: the last day whose releases count. */
  readonly asOf: string;
}

/**
 * Called by git for one file that both sides changed: merges the texts in three files and leaves the result
 * in that of ours, never with conflict marks. @param path of the file in the repository
 * @returns the exit code: git takes anything but 0 for a conflict
 */
export async function mergeDriverCommand(
  [baseFile, oursFile, theirsFile, path]: readonly [string, string, string, string],
  options: MergeDriverOptions,
  output: Output,
): Promise<number> {
  const [base, ours, theirs] = (await Promise.all(
    [baseFile, oursFile, theirsFile].map((file) => readFile(file, 'utf8')),
  )) as [string, string, string];
  const texts = { base, ours, theirs };
  const { text, code } =
    path === LOCK_FILE
      ? await mergedLock(texts, options, output)
      : mergedManifest(
          path,
          { ...texts, base: base === '' ? undefined : base },
          await shapesHere('.'),
          output,
        );
  if (text !== ours) await replaceFile(oursFile, text);
  return code;
}

interface Merged {
  readonly text: string;
  readonly code: number;
}

function mergedManifest(path: string, texts: ThreeTexts, shapes: Shapes, output: Output): Merged {
  const merge = mergeFile(path, texts, shapes);
  if (merge.kind === 'merged') return { text: merge.text ?? '', code: EXIT.ok };
  output.complain('Both sides changed these, each differently; what is ours stands for now:');
  for (const one of merge.conflicts) output.complain(conflictWords(one));
  output.complain('git mergetool --tool=deep-ledger asks for each of them.');
  const kept = mergeFile(path, texts, shapes, () => 'ours');
  return {
    text: (kept.kind === 'merged' ? kept.text : undefined) ?? texts.ours ?? '',
    code: EXIT.stale,
  };
}

/** The lockfile that answers the manifests as git merges them, with what both sides had. */
async function mergedLock(
  texts: { readonly base: string; readonly ours: string; readonly theirs: string },
  options: MergeDriverOptions,
  output: Output,
): Promise<Merged> {
  const undecided = (why: string): Merged => {
    output.complain(`${LOCK_FILE}: ${why} Ours stands for now.`);
    output.complain('Once the manifests are as they should be, write it with deep-ledger lock.');
    return { text: texts.ours, code: EXIT.stale };
  };
  if (process.env[WITHIN] !== undefined) return { text: texts.ours, code: EXIT.ok };
  const tree = await mergedTree('.', texts);
  if (tree === null) return undecided('it cannot be told which commits are being merged.');
  const files = await filesOfTree('.', tree);
  const workspace = usableWorkspace(files, output);
  if (workspace === null) return undecided('the merged manifests cannot be used.');
  const records = await loadPackages(
    requiredPackages(workspace),
    await registrySource(options, workspace, output.complain),
  );
  const outcome = resolve({
    workspace,
    asOf: options.asOf,
    records,
    before: mergeLockAnswers(texts),
  });
  switch (outcome.kind) {
    case 'answered':
      return { text: printLock(outcome.resolution), code: EXIT.ok };
    case 'unanswered':
      for (const { sentences } of outcome.unanswered) output.complain(`${sentences.join('\n')}\n`);
      return undecided('nothing answers the merged manifests.');
    case 'ask':
      throw new Error(`records not loaded: ${outcome.names.join(', ')}`);
  }
}
