import { readFile } from 'node:fs/promises';
import {
  causeWords,
  explainLockChange,
  findCulprits,
  LockMix,
  type LockDifference,
  type MixedLock,
  type Workspace,
} from '@deep-ledger/core';
import { InstallTrouble } from '@deep-ledger/install';
import { firstCommits, type ToldCommit } from './bisect/first-commits.js';
import { notesBetween, type ToldNotes } from './bisect/notes-between.js';
import { requirersOf, type Requirer } from './bisect/requirers.js';
import { TrialTree, type Trial } from './bisect/trial-tree.js';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import { commitNamed, filesOfTree } from './git/git-files.js';
import { archivesHere, cacheHere, targetHere, type ArchiveOptions } from './install-here.js';
import { readSide, type Side } from './lock-side.js';
import type { Output } from './output.js';
import { usableWorkspace } from './usable-workspace.js';

export interface BisectOptions extends ArchiveOptions {
  /** A commit, a day or a lockfile with which the command works. */
  readonly works: string;
  /** One with which it fails. */
  readonly fails: string;
  /** Where the command runs, from the root of the work tree. */
  readonly at: string;
  /** Seconds that one trial may take. */
  readonly limit: number;
  readonly says?: string;
  /** Leave the scratch tree. */
  readonly keep?: true;
  readonly json?: true;
}

/** A difference that has a part in it, as it is told. */
interface Culprit extends LockDifference {
  readonly requiredBy: readonly Requirer[];
  /** Why the copy changed, in words. */
  readonly causes: readonly string[];
  /** Null: not known. */
  readonly commit: ToldCommit | null;
  readonly notes: readonly ToldNotes[] | string;
}

/** Lines of what the failing command printed. */
const MOST_LINES = 10;
/** Owners that are written out. */
const MOST_REQUIRERS = 4;

/**
 * Finds the smallest part of what differs between two lockfiles that makes a command fail.
 * @returns the exit code: 1 where the difference is not in the copies
 */
export async function bisectCommand(
  command: readonly string[],
  options: BisectOptions,
  output: Output,
): Promise<number> {
  const [works, fails] = [
    await readSide(options.in, options.works),
    await readSide(options.in, options.fails),
  ];
  const sources = fails.commit ?? (await commitNamed(options.in, 'HEAD'));
  const files = fails.files ?? (await filesOfTree(options.in, sources));
  const workspace = usableWorkspace(files, output);
  if (workspace === null) return EXIT.unreadable;
  const target = targetHere(workspace, options.target, output);
  if (target === undefined) return EXIT.unreadable;
  const mix = new LockMix(works.resolution, fails.resolution, workspace);
  if (mix.differences.length === 0) {
    output.say('Both lockfiles answer alike; the difference is not in the copies.');
    return EXIT.stale;
  }
  const stop = new AbortController();
  const interrupt = (): void => stop.abort(new InstallTrouble('Stopped.'));
  process.once('SIGINT', interrupt);
  const tree = await TrialTree.at(
    options.in,
    sources,
    {
      ...{ workspace, target, isDev: options.dev, cache: cacheHere(options) },
      from: await archivesHere(options, workspace, output),
      command: command as readonly [string, ...string[]],
      ...{ at: options.at, limitMs: options.limit * 1000, says: options.says ?? null },
    },
    stop.signal,
  );
  try {
    const { signal } = stop;
    return await search({ works, fails, mix, tree, workspace, signal }, command, options, output);
  } catch (error) {
    output.progress(null);
    if (!(error instanceof InstallTrouble)) throw error;
    output.complain(error.message);
    return EXIT.unreadable;
  } finally {
    output.progress(null);
    process.off('SIGINT', interrupt);
    if (options.keep === true) output.say(`The scratch tree is left in ${tree.folder}.`);
    else await tree.remove();
  }
}

interface Searched {
  readonly works: Side;
  readonly fails: Side;
  readonly mix: LockMix;
  readonly tree: TrialTree;
  readonly workspace: Workspace;
  /** Aborted once somebody stops it. */
  readonly signal: AbortSignal;
}

async function search(
  searched: Searched,
  command: readonly string[],
  options: BisectOptions,
  output: Output,
): Promise<number> {
  const { works, fails, mix, tree, signal } = searched;
  const all = mix.differences.length;
  output.progress('trying both ends');
  const ends = [mix.with([]), mix.with(mix.differences.keys())] as const;
  const [none, whole] = [await tree.try(ends[0]!.resolution), await tree.try(ends[1]!.resolution)];
  if (none.verdict !== 'works' || whole.verdict !== 'fails') {
    output.progress(null);
    output.say(
      none.verdict === 'works'
        ? `With the lockfile of ${fails.name} the command does not fail either: ${whole.says}. The difference is not in the copies.`
        : `With the lockfile of ${works.name} the command does not work: ${none.says}. The difference is not in the copies, or it is in the sources, which are those of ${fails.commit === null ? 'HEAD' : fails.name}.`,
    );
    await tellPrinted(none.verdict === 'works' ? whole : none, output);
    return EXIT.stale;
  }
  let unclear = 0;
  const found = await findCulprits({
    count: all,
    closed: (chosen) => {
      const mixed = mix.with(chosen);
      return mixed === null ? null : [...mixed.has].sort((a, b) => a - b);
    },
    trial: async (closed) => {
      const { verdict } = await tree.try(mix.with(closed)!.resolution).catch((error: unknown) => {
        // What cannot be laid out cannot be tried; the ends could.
        if (!(error instanceof InstallTrouble) || signal.aborted) throw error;
        return { verdict: 'unclear' as const };
      });
      if (verdict === 'unclear') unclear++;
      return verdict;
    },
    tell: ({ left, open }) =>
      output.progress(
        `trial ${tree.trials + 1}, at most ${left} more: ${count(open, 'difference')} of ${all} in question`,
      ),
  });
  output.progress('looking for commits and notes');
  const culprit = mix.with(found)!;
  const failing = await tree.try(culprit.resolution);
  const culprits = await told(searched, culprit, found, options);
  output.progress(null);
  if (options.json === true)
    output.say(
      JSON.stringify({
        format: 1,
        ...{ command, differences: all, trials: tree.trials, unclear, culprits },
        ...{ ended: failing.says, printed: await lastLines(failing) },
      }),
    );
  else await tellFound(culprits, { all, trials: tree.trials, unclear }, command, failing, output);
  return EXIT.ok;
}

async function told(
  { works, fails, mix, workspace }: Searched,
  culprit: MixedLock,
  found: readonly number[],
  options: BisectOptions,
): Promise<readonly Culprit[]> {
  const differences = found.map((one) => mix.differences[one]!);
  const { because } = explainLockChange(mix.with([])!.resolution, culprit.resolution);
  const commits =
    works.commit === null || fails.commit === null
      ? differences.map(() => null)
      : await firstCommits(options.in, [works.commit, fails.commit], works.resolution, differences);
  return Promise.all(
    differences.map(async (one, i) => ({
      ...one,
      requiredBy: requirersOf(culprit.resolution, one),
      causes: because
        .filter(({ name, to, from }) => name === one.name && (to ?? from) === (one.to ?? one.from))
        .flatMap(({ causes }) => causes.map(causeWords)),
      commit: commits[i]!,
      notes: await notesBetween(one, workspace, options),
    })),
  );
}

async function tellFound(
  culprits: readonly Culprit[],
  {
    all,
    trials,
    unclear,
  }: { readonly all: number; readonly trials: number; readonly unclear: number },
  command: readonly string[],
  failing: Trial,
  output: Output,
): Promise<void> {
  const these = culprits.length === 1 ? 'this one makes' : `these ${culprits.length} together make`;
  output.say(
    `Of ${count(all, 'difference')} ${these} \`${command.join(' ')}\` fail, found in ${count(trials, 'trial')}:`,
  );
  for (const { name, from, to, requiredBy, causes, commit, notes } of culprits) {
    output.say('');
    output.say(output.mark(`${name} ${from ?? 'none'} -> ${to ?? 'none'}`, 'error'));
    if (requiredBy.length > 0) output.say(`  for      ${requirerWords(requiredBy)}`);
    for (const cause of causes) output.say(`  because  ${cause}`);
    if (commit !== null) {
      const { commit: hash, subject, author, at } = commit;
      output.say(`  commit   ${hash.slice(0, 10)} ${subject} (${author}, ${at.slice(0, 10)})`);
    }
    if (typeof notes === 'string') output.say(`  notes    not known: ${notes}`);
    else
      for (const { version, text } of notes)
        for (const [i, line] of text.trim().split('\n').entries())
          output.say(`  ${i === 0 ? `notes    ${version}: ` : '         '}${line}`.trimEnd());
  }
  output.say('');
  if (unclear > 0) output.say(`${count(unclear, 'trial')} said neither, and counted as working.`);
  output.say(`With nothing but this, ${failing.says}.`);
  await tellPrinted(failing, output);
}

function requirerWords(all: readonly Requirer[]): string {
  const told = all.slice(0, MOST_REQUIRERS).map(({ owner, range }) => `${owner} (${range})`);
  const rest = all.length - told.length;
  return `${told.join(', ')}${rest > 0 ? ` and ${rest} more` : ''}`;
}

async function tellPrinted(trial: Trial, output: Output): Promise<void> {
  for (const line of await lastLines(trial)) output.say(`  ${line}`);
}

async function lastLines({ printed }: Trial): Promise<readonly string[]> {
  const text = (await readFile(printed, 'utf8')).trimEnd();
  return text === '' ? [] : text.split('\n').slice(-MOST_LINES);
}
