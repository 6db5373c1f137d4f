import { existsSync } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { basename, join, resolve } from 'node:path';
import {
  formOfProposal,
  isOwnFile,
  onlyRegistry,
  placeProblems,
  printShapes,
  proposeShapes,
  readWorkspace,
  rootText,
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
    [ROOT_FILE, rootText(nameOf(options), onlyRegistry(options.registryName))],
    [SHAPES_FILE, printShapes(formOfProposal(proposal))],
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

function nameOf({ in: folder, name }: BringInOptions): string {
  return name ?? basename(resolve(folder));
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
      // A file with the character zero is no text.
      if (!bytes.subarray(0, 8000).includes(0)) files.set(path, bytes.toString('utf8'));
    }
    if (seen % 500 === 0) output.progress(`looking at the files: ${seen}`);
  }
  return { files, left };
}

function tell({ manifests, shared, adopt, unread }: Proposal, left: number, output: Output): void {
  for (const manifest of manifests) tellManifest(manifest, output);
  if (shared !== null)
    output.say(
      `${shared.form.file}  (${shared.form.syntax})\n  ${shared.form.at}  ${count(shared.values, 'agreed version')}, because other files have a word for them`,
    );
  if (adopt !== null)
    output.say(
      `${adopt.form.file}  (${adopt.form.syntax})\n  ${adopt.form.items}  ${count(adopt.values, 'version')} that ${adopt.values === 1 ? 'is' : 'are'} installed today, from which the first lockfile starts`,
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

function tellManifest({ form, paths, evidence, isSure }: ProposedManifest, output: Output): void {
  const { files, syntax, requirements, name, pattern, kind, spelling } = form;
  output.say(
    `${files.join(' ')}  (${syntax}, ${count(paths.length, 'file')}, ${isSure ? 'sure' : 'likely'})`,
  );
  const places = requirements.map((one) => ({
    what: `${one.at}${one.package.length === 0 ? '' : `, named by ${one.package.join(one.join)}`}`,
    kind: one.kind,
  }));
  const all = pattern === null ? places : [{ what: pattern, kind }];
  for (const [i, one] of all.entries())
    output.say(`  ${one.what}  ${one.kind}: ${evidence[i]!.why}`);
  if (name !== null) output.say(`  ${name}  the project's name`);
  if (spelling.shared !== null)
    output.say(`  "${spelling.shared}"  seems to take the shared version`);
  if (spelling.workspace !== null)
    output.say(`  "${spelling.workspace}"  seems to mean a project of the workspace`);
}
