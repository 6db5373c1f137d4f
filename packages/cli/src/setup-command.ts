import { existsSync } from 'node:fs';
import { chmod, mkdir, readFile, rename } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { LOCK_FILE, PROJECT_FILE, ROOT_FILE, SHAPES_FILE, SHARED_FILE } from '@deep-ledger/core';
import { EXIT } from './exit-codes.js';
import { git } from './git/git.js';
import type { Output } from './output.js';
import { replaceFile } from './replace-file.js';
import { shapesHere } from './shapes-here.js';

export interface SetupOptions {
  /** Folder in the work tree. */
  readonly in: string;
  /** Places of registries that every command is told; without them it looks where the user keeps them. */
  readonly registry?: readonly string[];
  /** Leave hooks alone. */
  readonly hooks: boolean;
}

const FILES = [LOCK_FILE, ROOT_FILE, SHARED_FILE, SHAPES_FILE, PROJECT_FILE];
const MARK = '# written by deep-ledger setup-git';

/**
 * Configures one clone: merge driver, mergetool, and the checks before a commit and a push. It leaves alone what is set
 * up already; a hook that was there is kept beside ours and runs first.
 * @param command that runs this program
 */
export async function setupCommand(
  { in: folder, registry = [], hooks }: SetupOptions,
  command: string,
  output: Output,
): Promise<number> {
  const root = (await git(folder, ['rev-parse', '--show-toplevel'])).trim();
  const places = registry.map((place) => ` --registry ${quoted(wholePlace(place))}`).join('');
  const run = (name: string): string => `${quoted(command)} ${name}${places}`;
  const settings: readonly (readonly [string, string])[] = [
    ['merge.deep-ledger.driver', `${run('merge-driver').replaceAll('%', '%%')} %O %A %B %P`],
    ['merge.deep-ledger.recursive', 'text'],
    ['mergetool.deep-ledger.cmd', `${run('merge-tool')} "$BASE" "$LOCAL" "$REMOTE" "$MERGED"`],
    ['mergetool.deep-ledger.trustExitCode', 'true'],
  ];
  for (const [name, value] of settings) {
    await git(root, ['config', '--local', name, value]);
    output.say(`set    ${name}`);
  }
  await writeAttributes(root, output);
  if (!hooks) return EXIT.ok;
  const check = quoted(command);
  const scripts: readonly (readonly [string, string])[] = [
    ['pre-commit', `${check} check --staged`],
    ['pre-merge-commit', `${check} check --staged`],
    ['pre-push', `${check} check --pushed`],
  ];
  let isWhole = true;
  for (const [name, line] of scripts)
    isWhole = (await writeHook(root, name, line, output)) && isWhole;
  return isWhole ? EXIT.ok : EXIT.stale;
}

/** A folder is named from the root: git calls from elsewhere. */
function wholePlace(place: string): string {
  const [, name = '', rest = place] = /^([^=/:]+=)(.*)$/.exec(place) ?? [];
  return /^https?:\/\//.test(rest) ? place : `${name}${resolve(rest)}`;
}

async function writeAttributes(root: string, output: Output): Promise<void> {
  const file = join(root, '.gitattributes');
  const before = existsSync(file) ? await readFile(file, 'utf8') : '';
  const lines = before.split('\n').map((line) => line.trim());
  const { manifests, shared } = await shapesHere(root);
  const foreign = manifests.flatMap(({ files }) => files.filter((one) => !one.startsWith('!')));
  const all = [...FILES, ...foreign, ...(shared === null ? [] : [shared.file])];
  const missing = all
    .map((name) => `${name} merge=deep-ledger`)
    .filter((line) => !lines.includes(line));
  if (missing.length === 0) return output.say('kept   .gitattributes');
  const start = before === '' || before.endsWith('\n') ? before : `${before}\n`;
  await replaceFile(file, `${start}${missing.join('\n')}\n`);
  output.say('wrote  .gitattributes: commit it, so that every clone merges alike');
}

async function writeHook(
  root: string,
  name: string,
  line: string,
  output: Output,
): Promise<boolean> {
  const file = resolve(
    root,
    (await git(root, ['rev-parse', '--git-path', `hooks/${name}`])).trim(),
  );
  const kept = `${file}.before-deep-ledger`;
  const isOthers = existsSync(file) && !(await readFile(file, 'utf8')).includes(MARK);
  if (isOthers && existsSync(kept)) {
    output.complain(`left   ${name}: ${kept} is there already. Move it away and run this again.`);
    return false;
  }
  await mkdir(dirname(file), { recursive: true });
  if (isOthers) await rename(file, kept);
  await replaceFile(file, hookScript(name, line));
  await chmod(file, 0o755);
  output.say(
    isOthers ? `wrote  hook ${name}; the one that was there runs first` : `wrote  hook ${name}`,
  );
  return true;
}

/** The standard input that git gives a hook is read once and passed to both. */
function hookScript(name: string, line: string): string {
  const before = `"$(dirname "$0")/${name}.before-deep-ledger"`;
  return `#!/bin/sh
${MARK}
told=$([ -t 0 ] || cat)
if [ -x ${before} ]; then
  printf '%s\\n' "$told" | ${before} "$@" || exit $?
fi
printf '%s\\n' "$told" | ${line}
`;
}

/** For a shell. */
function quoted(text: string): string {
  return /^[\w@%+=:,./-]+$/.test(text) ? text : `'${text.replaceAll("'", "'\\''")}'`;
}
