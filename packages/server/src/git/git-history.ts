import { Injectable } from '@nestjs/common';
import {
  LOCK_FILE,
  PROJECT_FILE,
  ROOT_FILE,
  SHARED_FILE,
  readShapes,
  SHAPES_FILE,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import { GitClones, textOf } from './git-clones.js';
import { GitFiles } from './git-files.js';
import { KeptAnswers } from './kept-answers.js';

export interface CommitInfo {
  readonly commit: string;
  readonly subject: string;
  readonly author: string;
  /** RFC 3339. */
  readonly at: string;
}

/** A commit with the workspace's files that it touched. */
export interface HistoryCommit extends CommitInfo {
  readonly files: readonly string[];
}

/** A branch and the commit at its head. */
export interface BranchHead {
  readonly name: string;
  readonly head: CommitInfo;
}

const COMMIT_FORMAT = '%H%x00%s%x00%an%x00%aI';
const WORKSPACE_PATHS = [
  ROOT_FILE,
  SHARED_FILE,
  SHAPES_FILE,
  LOCK_FILE,
  PROJECT_FILE,
  `:(glob)**/${PROJECT_FILE}`,
];

/** What shapes describe, as git takes patterns: it knows no braces, so what differs there is any. */
function foreignPaths(shapesText: string | null): readonly string[] {
  const shapes = shapesText === null ? null : readShapes(shapesText).shapes;
  if (shapes === null) return [];
  const patterns = shapes.manifests.flatMap(({ files }) =>
    files.filter((one) => !one.startsWith('!')).map((one) => one.replace(/\{[^{}]*\}/g, '*')),
  );
  const shared = shapes.shared === null ? [] : [shapes.shared.file];
  return [...patterns.map((one) => `:(glob)${one}`), ...shared.map((one) => `:(literal)${one}`)];
}

function commitInfo(text: string): CommitInfo {
  const [commit = '', subject = '', author = '', at = ''] = text.split('\0');
  return { commit, subject, author, at };
}

/** Reads the clones' branches and commits; what files they have, `GitFiles` says. */
@Injectable()
export class GitHistory {
  /** What commits say, and what branches say, for as long as nothing has moved them. */
  private readonly kept = new KeptAnswers();

  constructor(
    private readonly clones: GitClones,
    private readonly files: GitFiles,
  ) {}

  /** The commit at the head of a branch; null: there is no such branch. */
  head(id: string, branch: string): Promise<CommitInfo | null> {
    return this.lastOf(id, `refs/heads/${branch}`);
  }

  /** All branches with their heads, by name. One process, however many there are. */
  heads(id: string): Promise<readonly BranchHead[]> {
    return this.kept.once(id, ['heads', this.clones.movesOf(id)], () => this.readHeads(id));
  }

  private async readHeads(id: string): Promise<readonly BranchHead[]> {
    const said = await this.clones.demand(id, [
      'for-each-ref',
      '--format=%(refname:lstrip=2)%00%(objectname)%00%(contents:subject)%00%(authorname)%00%(authordate:iso-strict)',
      'refs/heads/',
    ]);
    return said
      .split('\n')
      .filter(Boolean)
      .map((line) => {
        const [name = '', ...rest] = line.split('\0');
        return { name, head: commitInfo(rest.join('\0')) };
      });
  }

  /** Names of the branches all of whose commits another branch has. */
  mergedInto(id: string, branch: string): Promise<ReadonlySet<string>> {
    return this.kept.once(id, ['merged', branch, this.clones.movesOf(id)], () =>
      this.readMerged(id, branch),
    );
  }

  private async readMerged(id: string, branch: string): Promise<ReadonlySet<string>> {
    const said = await this.clones.demand(id, [
      'for-each-ref',
      `--merged=refs/heads/${branch}`,
      '--format=%(refname:lstrip=2)',
      'refs/heads/',
    ]);
    return new Set(said.split('\n').filter(Boolean));
  }

  /**
   * Does a branch of the clone have a commit? One that is there without a branch may be on its way still, with its files to
   * come: a fetch writes commits first, and moves branches when all is there.
   */
  async has(id: string, commit: string): Promise<boolean> {
    if (!(await this.clones.exists(id))) return false;
    const args = ['for-each-ref', `--contains=${commit}`, '--count=1', 'refs/heads/'];
    const { exitCode, stdout } = await this.clones.ask(id, args);
    return exitCode === 0 && stdout.length > 0;
  }

  async contains(id: string, branch: string, commit: string): Promise<boolean> {
    const { exitCode } = await this.clones.ask(id, [
      'merge-base',
      '--is-ancestor',
      commit,
      `refs/heads/${branch}`,
    ]);
    return exitCode === 0;
  }

  /**
   * The commit that a branch, a commit's id or a day names; of a day the last one of the branch beside it.
   * @param branch of which days speak
   * @throws Problem POINT_UNKNOWN
   */
  async commitOf(id: string, point: string, branch?: string): Promise<CommitInfo> {
    if (branch !== undefined && /^\d{4}-\d{2}-\d{2}$/.test(point)) {
      const found = await this.commitAtDay(id, branch, point);
      if (found !== null) return found;
    }
    const isName = !point.includes('\0');
    const refs = isName
      ? [`refs/heads/${point}`, ...(/^[0-9a-f]{4,64}$/.test(point) ? [point] : [])]
      : [];
    for (const ref of refs) {
      const found = await this.kept.once(id, ['last', ref, this.clones.movesOf(id)], () =>
        this.lastOf(id, ref),
      );
      if (found !== null) return found;
    }
    throw new Problem(
      'POINT_UNKNOWN',
      404,
      'No such commit or branch',
      `The repository has neither a branch nor a commit ${point}.`,
    );
  }

  /** The first parent of a commit; null: it has none. */
  parentOf(id: string, commit: string): Promise<string | null> {
    return this.kept.once(id, ['parent', commit], () => this.readParent(id, commit));
  }

  private async readParent(id: string, commit: string): Promise<string | null> {
    const said = await this.clones.demand(id, ['log', '-1', '--format=%P', commit, '--']);
    return said.split(' ')[0] || null;
  }

  /**
   * Commits up to one that touched the workspace's own files, newest first, merges as they came in.
   * @param head the newest to look at
   */
  commits(
    id: string,
    head: string,
    skip: number,
    count: number,
  ): Promise<readonly HistoryCommit[]> {
    return this.kept.once(id, ['commits', head, skip, count], () =>
      this.readCommits(id, head, skip, count),
    );
  }

  private async readCommits(
    id: string,
    head: string,
    skip: number,
    count: number,
  ): Promise<readonly HistoryCommit[]> {
    const shapes = await this.files.readFile(id, head, SHAPES_FILE);
    // A subject may hold any character but a line end and the character zero.
    const said = await this.clones.demand(id, [
      'log',
      '-z',
      '--first-parent',
      '-m',
      `--format=%x00${COMMIT_FORMAT}`,
      '--name-only',
      `--skip=${skip}`,
      `--max-count=${count}`,
      head,
      '--',
      ...WORKSPACE_PATHS,
      ...foreignPaths(shapes),
    ]);
    return historyOf(said);
  }

  /** A commit as `git am` takes it. */
  async patchOf(id: string, commit: string): Promise<string> {
    const patch = await this.clones.demandBytes(id, [
      'format-patch',
      '--stdout',
      '--no-signature',
      '--binary',
      '-1',
      commit,
    ]);
    return patch.toString('utf8');
  }

  /** The last commit of a branch on or before a day, following first parents; null: there was none yet. */
  async commitAtDay(id: string, branch: string, day: string): Promise<CommitInfo | null> {
    const said = await this.clones.demand(id, [
      'log',
      '-1',
      '--first-parent',
      `--until=${day}T23:59:59Z`,
      `--format=${COMMIT_FORMAT}`,
      `refs/heads/${branch}`,
      '--',
    ]);
    return said === '' ? null : commitInfo(said);
  }

  /**
   * The same for many days, as the ids of the commits up to one; days before the first commit are left out.
   * One process, however many days there are.
   * @param head the newest to look at
   * @param days YYYY-MM-DD, sorted
   */
  commitsAtDays(
    id: string,
    head: string,
    days: readonly string[],
  ): Promise<ReadonlyMap<string, string>> {
    return this.kept.once(id, ['days', head, days], () => this.readCommitsAtDays(id, head, days));
  }

  private async readCommitsAtDays(
    id: string,
    head: string,
    days: readonly string[],
  ): Promise<ReadonlyMap<string, string>> {
    const said = await this.clones.demand(id, [
      'log',
      '--first-parent',
      '--format=%H %ct',
      head,
      '--',
    ]);
    const found = new Map<string, string>();
    let left = days.length;
    for (const line of said.split('\n')) {
      const [commit = '', seconds] = line.split(' ');
      // The newest first, so the days that are left are always the earliest.
      for (; left > 0 && Number(seconds) * 1000 <= endOf(days[left - 1]!); left--)
        found.set(days[left - 1]!, commit);
      if (left === 0) break;
    }
    return found;
  }

  private async lastOf(id: string, ref: string): Promise<CommitInfo | null> {
    const { exitCode, stdout } = await this.clones.ask(id, [
      'log',
      '-1',
      `--format=${COMMIT_FORMAT}`,
      '--end-of-options',
      ref,
      '--',
    ]);
    return exitCode === 0 && stdout.length > 0 ? commitInfo(textOf(stdout)) : null;
  }
}

/** The last second of a day, in milliseconds. */
function endOf(day: string): number {
  return Date.parse(`${day}T23:59:59Z`);
}

/**
 * Commits of `git log -z --format=%x00H%x00s%x00an%x00aI --name-only`: each is an empty field, its four parts, and the
 * names of its files, the first of them behind a line end.
 */
function historyOf(said: string): readonly HistoryCommit[] {
  const fields = said.split('\0');
  const commits: HistoryCommit[] = [];
  let at = 1;
  while (at + 3 < fields.length) {
    const info = commitInfo(fields.slice(at, at + 4).join('\0'));
    at += 4;
    const files: string[] = [];
    while (at < fields.length && fields[at] !== '') files.push(fields[at++]!.replace(/^\n/, ''));
    commits.push({ ...info, files });
    at += 1;
  }
  return commits;
}
