import { mkdir, mkdtemp, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { execa } from 'execa';
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
import { BRANCHES, MAIN, type Change, type Step } from './history.js';

type Tree = Map<string, string>;

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
  const work = await mkdtemp(join(tmpdir(), 'brindlepeak-'));
  try {
    const git = gitIn(work);
    await git(['init', '--quiet', '--initial-branch=main', '--template=', '.']);
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
    await git(['checkout', '--quiet', 'main']);
    const bare = join(work, 'bare.git');
    await git(['clone', '--quiet', '--bare', '--template=', work, bare]);
    await gitIn(bare)(['remote', 'remove', 'origin']);
    await rm(target, { recursive: true, force: true });
    await mkdir(dirname(target), { recursive: true });
    await moveFolder(bare, target);
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}

type Git = (args: readonly string[], env?: Readonly<Record<string, string>>) => Promise<void>;

function gitIn(cwd: string): Git {
  return async (args, env = {}) => {
    await execa('git', args, {
      cwd,
      env: { ...env, GIT_CONFIG_NOSYSTEM: '1', GIT_CONFIG_GLOBAL: '/dev/null', HOME: cwd },
    });
  };
}

/** Renames, or copies where the target is on another file system. */
async function moveFolder(from: string, to: string): Promise<void> {
  try {
    await rename(from, to);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EXDEV') throw error;
    await execa('cp', ['-a', from, to]);
  }
}

async function readTree(sources: string): Promise<Tree> {
  const entries = await readdir(sources, { recursive: true, withFileTypes: true });
  const paths = entries
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name).slice(sources.length + 1))
    .sort();
  return new Map(
    await Promise.all(
      paths.map(async (path) => [path, await readFile(join(sources, path), 'utf8')] as const),
    ),
  );
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
  for (const [path, text] of tree) {
    await mkdir(dirname(join(work, path)), { recursive: true });
    await writeFile(join(work, path), text);
  }
  await git(['add', '--all', '--', ...tree.keys()]);
  const email = `${step.who.replaceAll(' ', '.')}@brindlepeak.example`;
  const date = `${step.day}T09:30:00+0000`;
  await git(['commit', '--quiet', '--no-gpg-sign', '--message', step.message], {
    GIT_AUTHOR_NAME: step.who,
    GIT_AUTHOR_EMAIL: email,
    GIT_AUTHOR_DATE: date,
    GIT_COMMITTER_NAME: step.who,
    GIT_COMMITTER_EMAIL: email,
    GIT_COMMITTER_DATE: date,
  });
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
