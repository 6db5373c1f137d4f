import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import {
  loadPackages,
  lockMerged,
  mergeManifests,
  requiredPackages,
  type MergeOutcome,
  type ThreeTexts,
} from '@deep-ledger/core';
import { conflictWords } from './conflict-words.js';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import type { Output } from './output.js';
import { registrySource, type RegistryOptions } from './registry-source.js';
import { replaceFile } from './replace-file.js';
import { readWorkTree } from './work-tree.js';

export interface MergeOptions extends RegistryOptions {
  /** Folders of three work trees. */
  readonly base: string;
  readonly ours: string;
  readonly theirs: string;
  /** Folder of the work tree that gets the result; may be that of ours. */
  readonly out: string;
  /** YYYY-MM-DD: the last day whose releases count. */
  readonly asOf: string;
  /** Decides every conflict. */
  readonly take?: keyof ThreeTexts;
  readonly json?: true;
}

/**
 * Merges the hand-written files of three work trees and locks the result. Writes all files or, where
 * there are conflicts or nothing answers the result, none. @returns the exit code
 */
export async function mergeCommand(options: MergeOptions, output: Output): Promise<number> {
  const [base, ours, theirs] = await Promise.all(
    [options.base, options.ours, options.theirs].map((folder) =>
      readWorkTree(folder, output.complain),
    ),
  );
  const { take } = options;
  const merged = mergeManifests({
    base: base!,
    ours: ours!,
    theirs: theirs!,
    ...(take === undefined ? {} : { settle: () => take }),
  });
  const outcome =
    merged.kind === 'merged'
      ? lockMerged(
          merged,
          await loadPackages(
            requiredPackages(merged.workspace),
            await registrySource(options, merged.workspace, output.complain),
          ),
          options.asOf,
        )
      : merged;
  if (outcome.kind === 'merged') await writeTree(options.out, outcome.files);
  if (options.json) output.say(JSON.stringify(mergeJson(outcome)));
  else tell(outcome, output);
  switch (outcome.kind) {
    case 'merged':
      return EXIT.ok;
    case 'unreadable':
      return EXIT.unreadable;
    default:
      return EXIT.stale;
  }
}

/** Files of the workspace that are not in the result go. */
async function writeTree(folder: string, files: ReadonlyMap<string, string>): Promise<void> {
  const before = await readWorkTree(folder, () => undefined).catch(
    (error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return new Map<string, string>();
      throw error;
    },
  );
  for (const [path, text] of files)
    if (before.get(path) !== text) await replaceFile(join(folder, path), text);
  for (const path of before.keys()) if (!files.has(path)) await rm(join(folder, path));
}

function mergeJson(outcome: MergeOutcome): unknown {
  switch (outcome.kind) {
    case 'merged':
      return {
        format: 1,
        kind: outcome.kind,
        sum: outcome.sum,
        files: Object.fromEntries(outcome.files),
        unmetPeers: outcome.unmetPeers,
      };
    case 'unanswered':
      return {
        format: 1,
        kind: outcome.kind,
        explanations: outcome.unanswered.map(({ sentences }) => ({ sentences })),
      };
    default:
      return { format: 1, ...outcome };
  }
}

function tell(outcome: MergeOutcome, output: Output): void {
  switch (outcome.kind) {
    case 'merged':
      output.say(
        `Merged: ${count(outcome.resolution.copies.length, 'copy', 'copies')}, sum ${outcome.sum.slice(0, 8)}.`,
      );
      return;
    case 'conflicts':
      output.complain('Both sides changed these, each differently; nothing was written.');
      for (const one of outcome.conflicts) output.complain(`\n${conflictWords(one)}`);
      output.complain('\n--take ours, theirs or base decides all of them so.');
      return;
    case 'unanswered':
      output.complain('No lockfile answers the merged manifests; nothing was written.');
      for (const { sentences } of outcome.unanswered) output.complain(`\n${sentences.join('\n')}`);
      return;
    case 'unreadable':
      for (const { place, message } of outcome.problems)
        output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
      return;
    case 'ask':
      throw new Error(`records not loaded: ${outcome.names.join(', ')}`);
  }
}
