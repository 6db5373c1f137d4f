import { readFile } from 'node:fs/promises';
import { isAbsolute, join, relative, resolve as absolute } from 'node:path';
import { createInterface } from 'node:readline/promises';
import {
  LOCK_FILE,
  loadPackages,
  mergeLockAnswers,
  mergeFile,
  printLock,
  requiredPackages,
  resolve,
  type ManifestConflict,
  type Settle,
  type ThreeTexts,
} from '@deep-ledger/core';
import { conflictWords } from './conflict-words.js';
import { EXIT } from './exit-codes.js';
import { git } from './git/git.js';
import { usableWorkspace } from './usable-workspace.js';
import type { Output } from './output.js';
import { registrySource, type RegistryOptions } from './registry-source.js';
import { replaceFile } from './replace-file.js';
import { shapesHere } from './shapes-here.js';
import { readWorkTree } from './work-tree.js';

export type Side = keyof ThreeTexts;

export interface MergeToolOptions extends RegistryOptions {
  /** YYYY-MM-DD: the last day whose releases count. */
  readonly asOf: string;
  /** Decides every conflict; without it a person is asked. */
  readonly take?: Side;
}

/**
 * Called by `git mergetool` for one file that could not be merged: asks about each conflict, then locks the
 * work tree, so that the lockfile answers the manifests as they now stand. @returns the exit code
 */
export async function mergeToolCommand(
  [baseFile, oursFile, theirsFile, mergedFile]: readonly [string, string, string, string],
  options: MergeToolOptions,
  output: Output,
): Promise<number> {
  const [base, ours, theirs] = await Promise.all([baseFile, oursFile, theirsFile].map(textOf));
  const texts: ThreeTexts = { base, ours, theirs };
  const root = (await git('.', ['rev-parse', '--show-toplevel'])).trim();
  const path = relative(root, isAbsolute(mergedFile) ? mergedFile : absolute(mergedFile));
  if (path !== LOCK_FILE) {
    const isSettled = await settleManifest(path, root, texts, options, output);
    if (!isSettled) return EXIT.stale;
  }
  return relock(root, path === LOCK_FILE ? texts : null, options, output);
}

async function settleManifest(
  path: string,
  root: string,
  texts: ThreeTexts,
  { take }: MergeToolOptions,
  output: Output,
): Promise<boolean> {
  const shapes = await shapesHere(root);
  const merge = mergeFile(path, texts, shapes);
  const conflicts = merge.kind === 'conflicts' ? merge.conflicts : [];
  const sides = await (take === undefined
    ? askedSides(conflicts, output)
    : conflicts.map((one) => [keyOf(one), take] as const));
  if (sides === null) return false;
  const decided = new Map(sides);
  const settle: Settle = (one) => decided.get(keyOf(one)) ?? null;
  const settled = mergeFile(path, texts, shapes, settle);
  if (settled.kind !== 'merged') {
    output.complain(`${path}: what is decided does not fit together; edit the file by hand.`);
    return false;
  }
  if (settled.text === undefined) output.say(`${path} goes; git asks whether to delete it.`);
  else await replaceFile(join(root, path), settled.text);
  return true;
}

function keyOf({ path }: ManifestConflict): string {
  return path.join('\0');
}

/** The side that a person names by its word or its first letter; null: none. */
export function sideSaid(text: string): Side | null {
  const word = text.toLowerCase();
  if (word === '') return null;
  return SIDES.find((side) => side === word || side[0] === word) ?? null;
}

const SIDES: readonly Side[] = ['ours', 'theirs', 'base'];

/** @returns null where nobody can be asked */
async function askedSides(
  conflicts: readonly ManifestConflict[],
  output: Output,
): Promise<readonly (readonly [string, Side])[] | null> {
  if (!process.stdin.isTTY) {
    for (const one of conflicts) output.complain(conflictWords(one));
    output.complain('Nobody can be asked here. Decide with --take ours, theirs or base.');
    return null;
  }
  const terminal = createInterface({ input: process.stdin, output: process.stderr });
  const sides: (readonly [string, Side])[] = [];
  try {
    for (const one of conflicts) {
      output.complain(conflictWords(one));
      let side: Side | null = null;
      while (side === null) {
        const said = (await terminal.question('ours, theirs or base (o, t, b): ')).trim();
        side = sideSaid(said);
        if (side === null)
          output.complain(
            said === ''
              ? 'Nothing was typed. Type ours, theirs or base, or the first letter.'
              : `"${said}" is none of the three. Type ours, theirs or base, or the first letter.`,
          );
      }
      sides.push([keyOf(one), side]);
    }
  } finally {
    terminal.close();
  }
  return sides;
}

/** @param sides lockfiles of a merge; null: what stands in the work tree is held on to */
async function relock(
  root: string,
  sides: ThreeTexts | null,
  options: MergeToolOptions,
  output: Output,
): Promise<number> {
  const files = await readWorkTree(root, output.complain);
  const workspace = usableWorkspace(files, output);
  if (workspace === null) {
    output.complain(`${LOCK_FILE} waits until the manifests can be read.`);
    return sides === null ? EXIT.ok : EXIT.stale;
  }
  const records = await loadPackages(
    requiredPackages(workspace),
    await registrySource(options, workspace, output.complain),
  );
  const held = sides ?? { base: undefined, ours: files.get(LOCK_FILE), theirs: undefined };
  const outcome = resolve({
    workspace,
    asOf: options.asOf,
    records,
    before: mergeLockAnswers(held),
  });
  if (outcome.kind === 'ask') throw new Error(`records not loaded: ${outcome.names.join(', ')}`);
  if (outcome.kind === 'unanswered') {
    output.complain('No lockfile answers the manifests as they stand:');
    for (const { sentences } of outcome.unanswered) output.complain(`${sentences.join('\n')}\n`);
    return sides === null ? EXIT.ok : EXIT.stale;
  }
  await replaceFile(join(root, LOCK_FILE), printLock(outcome.resolution));
  const isUnmerged = (await git(root, ['ls-files', '--unmerged', '--', LOCK_FILE])) !== '';
  if (!isUnmerged) await git(root, ['add', '--', LOCK_FILE]);
  output.say(`${LOCK_FILE} answers the manifests as they stand.`);
  return EXIT.ok;
}

async function textOf(file: string): Promise<string | undefined> {
  return readFile(file, 'utf8').catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return undefined;
    throw error;
  });
}
