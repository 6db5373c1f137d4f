import {
  applyEdits,
  LOCK_FILE,
  manifestPath,
  planSetRequirement,
  planSetShared,
  printLock,
  readLock,
  readWorkspace,
  resolve,
  SHARED_FILE,
  type PackageRecords,
} from '@deep-ledger/core';
import { buildBare, readTree, type Commit, type Tree } from './git-repository.js';
import { BRANCHES, MAIN, type Change, type Step } from './history.js';

/**
 * Builds the made-up repository as a bare git repository, byte for byte the same on every machine:
 * authors, days and zones are given, and git reads none of the machine's settings.
 * @param sources folder with the tree of the first commit
 * @param records of the registry; each commit's lockfile is resolved as of its day
 */
export async function buildRepository(
  sources: string,
  records: PackageRecords,
  target: string,
): Promise<void> {
  const commits: Commit[] = [];
  const started = new Map<string, Commit>();
  let head: Commit | null = null;
  for (const step of MAIN) {
    const tree: Tree = new Map(head === null ? await readTree(sources) : head.tree);
    head = commitOf(step, 'main', tree, head, records);
    commits.push(head);
    started.set(step.message, head);
  }
  for (const { name, from, steps } of BRANCHES) {
    const start = from === undefined ? head : started.get(from);
    if (start == null) throw new Error(`${name}: main has no commit "${from}"`);
    let last = start;
    for (const step of steps) {
      last = commitOf(step, name, new Map(last.tree), last, records);
      commits.push(last);
    }
  }
  await buildBare(target, commits);
}

/** The commit of a step. @param tree of its parent; the step's changes are made in it */
function commitOf(
  step: Step,
  branch: string,
  tree: Tree,
  parent: Commit | null,
  records: PackageRecords,
): Commit {
  for (const change of step.changes) applyChange(tree, change);
  if (step.forgetsLock !== true) tree.set(LOCK_FILE, lockOf(tree, step, records));
  const { who, day, message } = step;
  const email = `${who.replaceAll(' ', '.')}@brindlepeak.example`;
  return { who, email, day, message, branch, tree, parent };
}

function applyChange(tree: Tree, change: Change): void {
  if (change.kind === 'append') {
    tree.set(change.file, (tree.get(change.file) ?? '') + change.text);
    return;
  }
  if (change.kind === 'replace') {
    const text = tree.get(change.file) ?? '';
    if (!text.includes(change.from)) throw new Error(`${change.file} has no ${change.from}`);
    tree.set(change.file, text.replaceAll(change.from, change.to));
    return;
  }
  const path = change.kind === 'range' ? manifestPath(change.folder) : SHARED_FILE;
  const text = tree.get(path) ?? '';
  const edits =
    change.kind === 'range'
      ? planSetRequirement(text, change.as ?? 'runtime', change.name, change.to)
      : planSetShared(text, change.name, change.to);
  if (edits === null || edits.length === 0)
    throw new Error(`${path}: the step changes nothing for ${change.name}`);
  tree.set(path, applyEdits(text, edits));
}

function lockOf(tree: Tree, step: Step, records: PackageRecords): string {
  const { workspace, problems } = readWorkspace(tree);
  if (workspace === null || problems.length > 0)
    throw new Error(`${step.message}: ${JSON.stringify(problems)}`);
  const before = tree.get(LOCK_FILE);
  const reading = before === undefined ? null : readLock(before);
  const outcome = resolve({
    workspace,
    records,
    asOf: step.day,
    before: reading?.kind === 'read' ? reading.resolution : null,
    refresh: new Set(step.refresh),
  });
  if (outcome.kind === 'unanswered') {
    throw new Error(
      `${step.message}: ${outcome.unanswered.flatMap(({ sentences }) => sentences).join(' ')}`,
    );
  }
  if (outcome.kind === 'ask')
    throw new Error(`${step.message}: no package ${outcome.names.join(', ')}`);
  return printLock(outcome.resolution);
}
