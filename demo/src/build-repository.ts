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
import { buildBare, commitTree, readTree, type Git, type Tree } from './git-repository.js';
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
  await buildBare(target, async (git, work) => {
    const tree: Tree = await readTree(sources);
    const started = new Map<string, { readonly tree: Tree; readonly behind: number }>();
    for (const [i, step] of MAIN.entries()) {
      await commitStep(git, work, tree, step, records);
      started.set(step.message, { tree: new Map(tree), behind: MAIN.length - 1 - i });
    }
    for (const { name, from, steps } of BRANCHES) {
      const start = started.get(from ?? MAIN.at(-1)!.message);
      if (start === undefined) throw new Error(`${name}: main has no commit "${from}"`);
      await git(['checkout', '--quiet', '-b', name, `main~${start.behind}`]);
      const onBranch = new Map(start.tree);
      for (const step of steps) await commitStep(git, work, onBranch, step, records);
    }
  });
}

async function commitStep(
  git: Git,
  work: string,
  tree: Tree,
  step: Step,
  records: PackageRecords,
): Promise<void> {
  for (const change of step.changes) applyChange(tree, change);
  if (step.forgetsLock !== true) tree.set(LOCK_FILE, lockOf(tree, step, records));
  const email = `${step.who.replaceAll(' ', '.')}@brindlepeak.example`;
  await commitTree(git, work, tree, { ...step, email });
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
