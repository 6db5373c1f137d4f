import { existsSync } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { basename, join, resolve } from 'node:path';
import {
  isOwnFile,
  placeProblems,
  printShapes,
  proposeShapes,
  readWorkspace,
  ROOT_FILE,
  SHAPES_FILE,
  type Proposal,
  type ProposedManifest,
} from '@deep-ledger/core';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import type { Output } from './output.js';
import { replaceFile } from './replace-file.js';
import { filesUnder } from './work-tree.js';

export interface BringInOptions {
  /** Folder of the work tree. */
  readonly in: string;
  /** Write the files; without it they are shown. */
  readonly write?: true;
  /** Of the workspace; without it the folder's. */
  readonly name?: string;
  /** What the registry is to be called. */
  readonly registryName: string;
}

const MOST_FILES = 100_000;
const MOST_BYTES = 2 * 1024 * 1024;
const MOST_NAMED = 8;

/**
 * Looks at the files of a repository that has none of ours, and proposes the shapes by which they can be read.
 * @returns the exit code: 1 where nothing is recognised
 */
export async function bringInCommand(options: BringInOptions, output: Output): Promise<number> {
  const { in: folder, write } = options;
  const taken = [ROOT_FILE, SHAPES_FILE].filter((file) => existsSync(join(folder, file)));
  if (taken.length > 0) {
    output.complain(
      `${taken.join(' and ')} ${taken.length === 1 ? 'is' : 'are'} there already, so this is a workspace. Change the files by hand; deep-ledger check says how they stand.`,
    );
    return EXIT.unreadable;
  }
  const { files, left } = await filesIn(folder, output);
  const proposal = proposeShapes(files);
  tell(proposal, left, output);
  if (proposal.manifests.length === 0) {
    output.complain(
      'No file was recognised in which requirements stand. docs/shapes.md shows how to describe one.',
    );
    return EXIT.stale;
  }
  const own = new Map([
    [ROOT_FILE, rootText(options)],
    [SHAPES_FILE, printShapes(proposal)],
  ]);
  const all = new Map([...files, ...own]);
  const { workspace, problems } = readWorkspace(all);
  for (const { message, place } of placeProblems(all, problems).slice(0, MOST_NAMED))
    output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
  if (workspace === null) return EXIT.unreadable;
  const { projects } = workspace;
  const requirements = projects.flatMap((one) => one.requirements).length;
  const unresolved = projects.flatMap((one) => one.unresolved).length;
  output.say(
    `\nRead so, it is a workspace of ${count(projects.length, 'project')} with ${count(requirements, 'requirement')}${unresolved === 0 ? '' : `; ${count(unresolved, 'more')} are no ranges and are left alone`}.`,
  );
  if (write !== true) {
    for (const [file, text] of own) output.say(`\n--- ${file}\n${text.trimEnd()}`);
    output.say('\nNothing was written. deep-ledger bring-in --write writes these two files.');
    return EXIT.ok;
  }
  for (const [file, text] of own) await replaceFile(join(folder, file), text);
  output.say(
    `\nwrote  ${[...own.keys()].join(', ')}. Next: deep-ledger lock --registry ADDRESS-OR-FOLDER`,
  );
  return EXIT.ok;
}

function rootText({ in: folder, name, registryName }: BringInOptions): string {
  const called = name ?? basename(resolve(folder));
  return `format = 1\nname = ${JSON.stringify(called)}\nprojects = []\nregistry = ${JSON.stringify(registryName)}\n`;
}

async function filesIn(
  folder: string,
  output: Output,
): Promise<{ readonly files: ReadonlyMap<string, string>; readonly left: number }> {
  const files = new Map<string, string>();
  let [seen, left] = [0, 0];
  for await (const path of filesUnder(folder)) {
    seen += 1;
    if (seen > MOST_FILES) {
      output.complain(`There are more than ${MOST_FILES} files; the first of them were looked at.`);
      break;
    }
    if (isOwnFile(path)) continue;
    const { size } = await stat(join(folder, path));
    if (size > MOST_BYTES) left += 1;
    else {
      const bytes = await readFile(join(folder, path));
      // What holds the character zero is no text.
      if (!bytes.subarray(0, 8000).includes(0)) files.set(path, bytes.toString('utf8'));
    }
    if (seen % 500 === 0) output.progress(`looking at the files: ${seen}`);
  }
  return { files, left };
}

function tell({ manifests, shared, unread }: Proposal, left: number, output: Output): void {
  for (const manifest of manifests) tellManifest(manifest, output);
  if (shared !== null)
    output.say(
      `${shared.file}  (${shared.syntax})\n  ${shared.at}  ${count(shared.values, 'agreed version')}, because other files have a word for them`,
    );
  if (unread.length > 0)
    output.say(
      `Nothing was recognised in ${count(unread.length, 'file')} with a structure: ${unread.slice(0, MOST_NAMED).join(', ')}${unread.length > MOST_NAMED ? ' and others' : ''}.`,
    );
  if (left > 0)
    output.say(
      `${count(left, 'file')} larger than 2 MB ${left === 1 ? 'was' : 'were'} not looked at.`,
    );
}

function tellManifest(
  { files, syntax, paths, requirements, name, shared }: ProposedManifest,
  output: Output,
): void {
  output.say(`${files}  (${syntax}, ${count(paths.length, 'file')})`);
  for (const { at, package: item, kind, why } of requirements)
    output.say(`  ${at}${item === null ? '' : `, named by ${item}`}  ${kind}: ${why}`);
  if (name !== null) output.say(`  ${name}  the project's name`);
  if (shared !== null) output.say(`  "${shared}"  seems to take the shared version`);
}
