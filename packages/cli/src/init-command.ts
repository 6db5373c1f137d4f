import { existsSync } from 'node:fs';
import { basename, join, relative, resolve } from 'node:path';
import {
  composed,
  isName,
  NAME_WORDS,
  PROJECT_FILE,
  readWorkspace,
  ROOT_FILE,
} from '@deep-ledger/core';
import { EXIT } from './exit-codes.js';
import type { Output } from './output.js';
import { replaceFile } from './replace-file.js';
import { readWorkTree } from './work-tree.js';

export interface InitOptions {
  /** Folder of the work tree. */
  readonly in: string;
  /** Folder of a project, from the work tree's; without it a workspace is begun. */
  readonly project?: string;
  /** Of the workspace or of the project. */
  readonly name?: string;
  /** Patterns of the projects' folders. */
  readonly projects: readonly string[];
  readonly registryName: string;
}

/** Begins a workspace, or a project in one. It leaves alone what is there already. @returns the exit code */
export async function initCommand(options: InitOptions, output: Output): Promise<number> {
  const folder = options.project === undefined ? options.in : join(options.in, options.project);
  const name = composed(options.name ?? basename(resolve(folder)));
  if (!isName(name)) {
    output.complain(`"${name}" cannot be its name. ${NAME_WORDS} --name says another.`);
    return EXIT.unreadable;
  }
  const file = options.project === undefined ? ROOT_FILE : PROJECT_FILE;
  if (existsSync(join(folder, file))) {
    output.complain(`${join(folder, file)} is there already. Nothing was written.`);
    return EXIT.unreadable;
  }
  if (options.project === undefined) {
    const projects = options.projects.map((one) => JSON.stringify(one)).join(', ');
    const registry = JSON.stringify(options.registryName);
    await replaceFile(
      join(folder, file),
      `format = 1\nname = ${JSON.stringify(name)}\nprojects = [${projects}]\nregistry = ${registry}\n`,
    );
    output.say(
      `${file} written: the workspace ${name}. deep-ledger init --project DIR begins a project in it.`,
    );
    return EXIT.ok;
  }
  await replaceFile(join(folder, file), `name = ${JSON.stringify(name)}\n`);
  const path = relative(options.in, join(folder, file));
  output.say(`${path} written: the project ${name}.`);
  const { workspace } = readWorkspace(await readWorkTree(options.in, output.complain));
  const isIn = workspace?.projects.some((one) => one.name === name) ?? false;
  if (!isIn)
    output.complain(
      `No pattern under projects in ${ROOT_FILE} takes this folder yet. Add it there.`,
    );
  return EXIT.ok;
}
