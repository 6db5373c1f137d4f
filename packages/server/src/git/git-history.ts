import { Injectable } from '@nestjs/common';
import { execa } from 'execa';
import {
  isWorkspaceFile,
  LOCK_FILE,
  PROJECT_FILE,
  ROOT_FILE,
  SHARED_FILE,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import { contentsOfBatch, filesOfBatch } from './files-of-batch.js';
import { ENV, GitClones } from './git-clones.js';

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

/** A file of a commit's tree. */
export interface TreeFile {
  readonly path: string;
  readonly oid: string;
  readonly bytes: number;
}

const COMMIT_FORMAT = '%H%x00%s%x00%an%x00%aI';
const WORKSPACE_PATHS = [
  ROOT_FILE,
  SHARED_FILE,
  LOCK_FILE,
  PROJECT_FILE,
  `:(glob)**/${PROJECT_FILE}`,
];

function commitInfo(text: string): CommitInfo {
  const [commit = '', subject = '', author = '', at = ''] = text.split('\0');
  return { commit, subject, author, at };
}

/** Reads the clones: commits, and files at them. */
@Injectable()
export class GitHistory {
  constructor(private readonly clones: GitClones) {}

  /** The commit at the head of a branch; null: there is no such branch. */
  async head(id: string, branch: string): Promise<CommitInfo | null> {
    const { stdout, exitCode } = await execa(
      'git',
      ['log', '-1', `--format=${COMMIT_FORMAT}`, `refs/heads/${branch}`, '--'],
      { cwd: this.clones.folder(id), env: ENV, reject: false },
    );
    if (exitCode !== 0) return null;
    return commitInfo(stdout);
  }

  async contains(id: string, branch: string, commit: string): Promise<boolean> {
    const { exitCode } = await execa(
      'git',
      ['merge-base', '--is-ancestor', commit, `refs/heads/${branch}`],
      {
        cwd: this.clones.folder(id),
        env: ENV,
        reject: false,
      },
    );
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
    const refs = [`refs/heads/${point}`, ...(/^[0-9a-f]{4,64}$/.test(point) ? [point] : [])];
    for (const ref of refs) {
      const { stdout, exitCode } = await execa(
        'git',
        ['log', '-1', `--format=${COMMIT_FORMAT}`, '--end-of-options', ref, '--'],
        { cwd: this.clones.folder(id), env: ENV, reject: false },
      );
      if (exitCode === 0 && stdout !== '') return commitInfo(stdout);
    }
    throw new Problem(
      'POINT_UNKNOWN',
      404,
      'No such commit or branch',
      `The repository has neither a branch nor a commit ${point}.`,
    );
  }

  /** The first parent of a commit; null: it has none. */
  async parentOf(id: string, commit: string): Promise<string | null> {
    const { stdout } = await this.clones.run(id, ['log', '-1', '--format=%P', commit, '--']);
    return stdout.split(' ')[0] || null;
  }

  /** Commits of a branch that touched the workspace's own files, newest first, merges as they came in. */
  async commits(
    id: string,
    branch: string,
    skip: number,
    count: number,
  ): Promise<readonly HistoryCommit[]> {
    const { stdout } = await this.clones.run(id, [
      'log',
      '--first-parent',
      '-m',
      `--format=%x1e${COMMIT_FORMAT}%x00`,
      '--name-only',
      `--skip=${skip}`,
      `--max-count=${count}`,
      `refs/heads/${branch}`,
      '--',
      ...WORKSPACE_PATHS,
    ]);
    return stdout
      .split('\x1e')
      .slice(1)
      .map((text) => {
        const end = text.lastIndexOf('\0');
        const files = text
          .slice(end + 1)
          .split('\n')
          .filter(Boolean);
        return { ...commitInfo(text.slice(0, end)), files };
      });
  }

  /** A commit as `git am` takes it. */
  async patchOf(id: string, commit: string): Promise<string> {
    const { stdout } = await this.clones.run(
      id,
      ['format-patch', '--stdout', '--no-signature', '--binary', '-1', commit],
      { stripFinalNewline: false },
    );
    return stdout;
  }

  /**
   * The workspace's own files at a commit.
   * @throws Problem FILE_NOT_UTF8
   */
  async readFiles(id: string, commit: string): Promise<WorkspaceFiles> {
    const blobs = (await this.tree(id, commit)).filter(({ path }) => isWorkspaceFile(path));
    return filesOfBatch(await this.batch(id, blobs), blobs);
  }

  /** The last commit of a branch on or before a day, following first parents; null: there was none yet. */
  async commitAtDay(id: string, branch: string, day: string): Promise<CommitInfo | null> {
    const { stdout } = await this.clones.run(id, [
      'log',
      '-1',
      '--first-parent',
      `--until=${day}T23:59:59Z`,
      `--format=${COMMIT_FORMAT}`,
      `refs/heads/${branch}`,
      '--',
    ]);
    return stdout === '' ? null : commitInfo(stdout);
  }

  /** One file at a commit; null: it is not there. */
  async readFile(id: string, commit: string, path: string): Promise<string | null> {
    const { stdout, exitCode } = await execa(
      'git',
      ['cat-file', 'blob', '--end-of-options', `${commit}:${path}`],
      {
        cwd: this.clones.folder(id),
        env: ENV,
        reject: false,
        stripFinalNewline: false,
        maxBuffer: 1 << 30,
      },
    );
    return exitCode === 0 ? stdout : null;
  }

  /** All files at a commit; links to elsewhere are left out. */
  async tree(id: string, commit: string): Promise<readonly TreeFile[]> {
    const { stdout } = await this.clones.run(id, [
      'ls-tree',
      '-r',
      '-l',
      '-z',
      '--full-tree',
      commit,
    ]);
    return stdout.split('\0').flatMap((line) => {
      const [, mode, type, oid, bytes, path] = /^(\d+) (\w+) (\w+) +(\S+)\t(.*)$/s.exec(line) ?? [];
      return type === 'blob' && mode !== '120000'
        ? [{ oid: oid!, path: path!, bytes: Number(bytes) }]
        : [];
    });
  }

  /** The texts of files, in their order. What is no UTF-8 is read as well as can be. */
  async readBlobs(id: string, files: readonly TreeFile[]): Promise<readonly string[]> {
    return contentsOfBatch(await this.batch(id, files), files.length).map((content) =>
      content.toString('utf8'),
    );
  }

  private async batch(id: string, files: readonly TreeFile[]): Promise<Buffer> {
    if (files.length === 0) return Buffer.alloc(0);
    const { stdout } = await execa('git', ['cat-file', '--batch'], {
      cwd: this.clones.folder(id),
      env: ENV,
      input: files.map(({ oid }) => `${oid}\n`).join(''),
      encoding: 'buffer',
      stripFinalNewline: false,
      maxBuffer: 1 << 30,
    });
    return Buffer.from(stdout);
  }
}
