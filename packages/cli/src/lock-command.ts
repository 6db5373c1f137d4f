import { rename, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  checkLock,
  compareLocks,
  isBlocking,
  loadPackages,
  lockSum,
  LOCK_FILE,
  placeProblem,
  printLock,
  readWorkspace,
  requiredPackages,
  resolve,
  type LockChange,
  type Workspace,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { EXIT } from './exit-codes.js';
import { registrySource } from './registry-source.js';
import { readWorkTree } from './work-tree.js';

/** Where a command's words go. */
export interface Output {
  readonly say: (line: string) => void;
  readonly complain: (line: string) => void;
}

export interface LockOptions {
  /** Folder of the work tree. */
  readonly in: string;
  /** Address of a registry, or a folder of its documents. */
  readonly registry: string;
  /** YYYY-MM-DD: the last day whose releases count. */
  readonly today: string;
}

/** Resolves the work tree and writes `ledger.lock`. @returns the exit code */
export async function lockCommand(options: LockOptions, output: Output): Promise<number> {
  const files = await readWorkTree(options.in);
  const workspace = usableWorkspace(files, output);
  if (workspace === null) return EXIT.unreadable;
  const { state, reasons, resolution: before } = checkLock(workspace, files);
  if (state === 'broken') {
    for (const { message, place } of reasons)
      output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
    output.complain('Nothing of it can be kept; resolving from nothing.');
  }
  const records = await loadPackages(requiredPackages(workspace), registrySource(options.registry));
  const outcome = resolve({ workspace, records, asOf: options.today, before });
  if (outcome.kind === 'ask') throw new Error(`records not loaded: ${outcome.names.join(', ')}`);
  if (outcome.kind === 'unanswered') {
    output.complain('No lockfile answers these manifests; nothing was written.');
    for (const { sentences } of outcome.unanswered) output.complain(`\n${sentences.join('\n')}`);
    return EXIT.stale;
  }
  const text = printLock(outcome.resolution);
  if (text === files.get(LOCK_FILE)) {
    output.say(`${LOCK_FILE} is true already (sum ${lockSum(text).slice(0, 8)}).`);
    return EXIT.ok;
  }
  await replaceFile(join(options.in, LOCK_FILE), text);
  for (const line of changeLines(compareLocks(before, outcome.resolution))) output.say(line);
  output.say(
    `${LOCK_FILE} written: ${outcome.resolution.copies.length} copies, sum ${lockSum(text).slice(0, 8)}.`,
  );
  return EXIT.ok;
}

/** The workspace, or null when something stands in the way; that is said. */
export function usableWorkspace(files: WorkspaceFiles, output: Output): Workspace | null {
  const { workspace, problems } = readWorkspace(files);
  for (const problem of problems) {
    const { place, message } = placeProblem(files, problem);
    output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
  }
  return problems.some(isBlocking) ? null : workspace;
}

function changeLines({ entered, left, moved }: LockChange): readonly string[] {
  return [
    ...left.map(({ name, version }) => `out    ${name} ${version}`),
    ...entered.map(({ name, version }) => `in     ${name} ${version}`),
    ...moved.map(({ name, from, to }) => `moved  ${name} ${from} -> ${to}`),
  ];
}

/** Whole or not at all: written beside it, then renamed over it. Keeps the file's mode. */
async function replaceFile(path: string, text: string): Promise<void> {
  const mode = await stat(path).then(
    (found) => found.mode & 0o777,
    () => 0o644,
  );
  const beside = `${path}.${process.pid}.new`;
  await writeFile(beside, text, { mode });
  await rename(beside, path);
}
