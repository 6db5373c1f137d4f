import { Injectable } from '@nestjs/common';
import {
  LOCK_FILE,
  PROJECT_FILE,
  ROOT_FILE,
  SHARED_FILE,
  type WorkspaceFiles,
  readShapes,
  SHAPES_FILE,
  workspaceFileTest,
} from '@deep-ledger/core';
import { LRUCache } from 'lru-cache';
import { Problem } from '../problems/problem.js';
import { demandReadable, MOST_SHOWN_BYTES } from './file-limits.js';
import { contentsOfBatch, decoded, filesOfBatch } from './files-of-batch.js';
import { GitClones, textOf } from './git-clones.js';
import { KeptContents, MOST_CHARACTERS, MOST_FILES } from './kept-contents.js';

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

/** A file of a commit's tree. */
export interface TreeFile {
  readonly path: string;
  readonly oid: string;
  readonly bytes: number;
}

/** Answers of git that are kept. The largest, of two thousand commits, has half a megabyte. */
const MOST_KEPT = 300;
/** So many commits are read ahead, until their trees or their texts have half of what is kept of them. */
const COMMITS_AHEAD = 32;
const FILES_AHEAD = MOST_FILES / 2;
const BYTES_AHEAD = MOST_CHARACTERS / 2;
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

const NOTHING_ADDED: WorkspaceFiles = new Map();

function commitInfo(text: string): CommitInfo {
  const [commit = '', subject = '', author = '', at = ''] = text.split('\0');
  return { commit, subject, author, at };
}

/** Reads the clones: commits, and files at them. */
@Injectable()
export class GitHistory {
  /** What commits say, which never changes, and what branches say, for as long as nothing has moved them. */
  private readonly kept = new LRUCache<string, Promise<unknown>>({ max: MOST_KEPT });
  private readonly contents = new KeptContents();

  constructor(private readonly clones: GitClones) {}

  /** Keeps answers that are asked for again and again; failures are not kept. */
  private once<T>(id: string, key: readonly unknown[], work: () => Promise<T>): Promise<T> {
    const whole = JSON.stringify([id, ...key]);
    const known = this.kept.get(whole) as Promise<T> | undefined;
    if (known !== undefined) return known;
    const asked = work();
    this.kept.set(whole, asked);
    asked.catch(() => this.kept.delete(whole));
    return asked;
  }

  /** The commit at the head of a branch; null: there is no such branch. */
  head(id: string, branch: string): Promise<CommitInfo | null> {
    return this.lastOf(id, `refs/heads/${branch}`);
  }

  /** All branches with their heads, by name. One process, however many there are. */
  heads(id: string): Promise<readonly BranchHead[]> {
    return this.once(id, ['heads', this.clones.movesOf(id)], () => this.readHeads(id));
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
    return this.once(id, ['merged', branch, this.clones.movesOf(id)], () =>
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
      const found = await this.once(id, ['last', ref, this.clones.movesOf(id)], () =>
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
    return this.once(id, ['parent', commit], () => this.readParent(id, commit));
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
    return this.once(id, ['commits', head, skip, count], () =>
      this.readCommits(id, head, skip, count),
    );
  }

  private async readCommits(
    id: string,
    head: string,
    skip: number,
    count: number,
  ): Promise<readonly HistoryCommit[]> {
    const shapes = await this.readFile(id, head, SHAPES_FILE);
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

  /**
   * The workspace's own files at a commit.
   * @throws Problem FILE_NOT_UTF8, FILE_TOO_LARGE before anything is read
   */
  async readFiles(id: string, commit: string): Promise<WorkspaceFiles> {
    return (await this.readFilesWith(id, commit, NOTHING_ADDED)).files;
  }

  /**
   * The same, as if the commit had these files too. Where it has a workspace's root or shapes of its own, they are left out.
   * @returns also the paths of those that it does not have
   * @throws Problem FILE_NOT_UTF8, FILE_TOO_LARGE before anything is read
   */
  async readFilesWith(
    id: string,
    commit: string,
    added: WorkspaceFiles,
  ): Promise<{ readonly files: WorkspaceFiles; readonly unwritten: ReadonlySet<string> }> {
    const tree = await this.tree(id, commit);
    const isThere = tree.some(({ path }) => path === ROOT_FILE || path === SHAPES_FILE);
    const more = isThere ? NOTHING_ADDED : added;
    const shapes = more.get(SHAPES_FILE) ?? (await this.shapesText(id, tree));
    const isOfWorkspace = workspaceFileTest(shapes);
    const blobs = tree.filter(({ path }) => isOfWorkspace(path) && !more.has(path));
    demandReadable(blobs);
    const files = await this.textsOf(id, blobs);
    return { files: new Map([...files, ...more]), unwritten: new Set(more.keys()) };
  }

  /**
   * The workspace's own files at one commit after another. Of many commits they are read in one go, each file once however
   * many of them have it; of large ones only as many as can be kept.
   * @throws Problem FILE_NOT_UTF8, FILE_TOO_LARGE once their commit is reached
   */
  async *filesOfEach<Commit extends Pick<CommitInfo, 'commit'>>(
    id: string,
    commits: readonly Commit[],
  ): AsyncGenerator<readonly [Commit, WorkspaceFiles]> {
    let ahead = 0;
    for (const [i, one] of commits.entries()) {
      if (i === ahead)
        ahead += await this.readAhead(
          id,
          commits.slice(i, i + COMMITS_AHEAD).map(({ commit }) => commit),
        );
      yield [one, await this.readFiles(id, one.commit)];
    }
  }

  /**
   * Reads what `readFiles` of these commits will ask for. What cannot be read is left to it, which says so.
   * @returns of how many commits, the first of them at least
   */
  private async readAhead(id: string, commits: readonly string[]): Promise<number> {
    const wanted = new Map<string, TreeFile>();
    let [files, bytes, done] = [0, 0, 0];
    for (const commit of commits) {
      files += (await this.tree(id, commit)).length;
      // A tree that is too large to be kept would only be listed once more.
      if (this.contents.tree(id, commit) === undefined) return commits.length;
      for (const blob of await this.filesOfWorkspace(id, commit)) {
        if (wanted.has(blob.oid) || this.contents.text(id, blob.oid) !== undefined) continue;
        bytes += blob.bytes;
        if (bytes <= BYTES_AHEAD) wanted.set(blob.oid, blob);
      }
      done += 1;
      if (files > FILES_AHEAD || bytes > BYTES_AHEAD) break;
    }
    const blobs = [...wanted.values()];
    const contents = contentsOfBatch(await this.batch(id, blobs), blobs.length);
    for (const [i, { oid }] of blobs.entries()) {
      const text = decoded(contents[i]!);
      if (text !== null) this.contents.keepText(id, oid, text);
    }
    return done;
  }

  /** None where the shapes cannot be read. */
  private async filesOfWorkspace(id: string, commit: string): Promise<readonly TreeFile[]> {
    try {
      const tree = await this.tree(id, commit);
      const isOfWorkspace = workspaceFileTest(await this.shapesText(id, tree));
      return tree.filter(({ path }) => isOfWorkspace(path));
    } catch (error) {
      if (error instanceof Problem) return [];
      throw error;
    }
  }

  /** What describes files that are not ours; undefined: there is nothing. */
  private async shapesText(id: string, tree: readonly TreeFile[]): Promise<string | undefined> {
    const shapes = tree.filter(({ path }) => path === SHAPES_FILE);
    if (shapes.length === 0) return undefined;
    demandReadable(shapes);
    return (await this.textsOf(id, shapes)).get(SHAPES_FILE);
  }

  /** @throws Problem FILE_NOT_UTF8 */
  private async textsOf(id: string, blobs: readonly TreeFile[]): Promise<WorkspaceFiles> {
    const known = new Map<string, string>();
    const open: TreeFile[] = [];
    for (const blob of blobs) {
      const text = this.contents.text(id, blob.oid);
      if (text === undefined) open.push(blob);
      else known.set(blob.path, text);
    }
    const read = filesOfBatch(await this.batch(id, open), open);
    for (const { path, oid } of open) this.contents.keepText(id, oid, read.get(path)!);
    return new Map(blobs.map(({ path }) => [path, known.get(path) ?? read.get(path)!]));
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
    return this.once(id, ['days', head, days], () => this.readCommitsAtDays(id, head, days));
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

  /**
   * One file at a commit; null: it is not there, or is no file.
   * @throws Problem FILE_TOO_LARGE before anything is read
   */
  async readFile(
    id: string,
    commit: string,
    path: string,
    mostBytes = MOST_SHOWN_BYTES,
  ): Promise<string | null> {
    const [file] = await this.readFilesAt(id, [`${commit}:${path}`]);
    if (file == null) return null;
    demandReadable([{ path, bytes: file.bytes }], mostBytes);
    const [text] = await this.readBlobs(id, [{ path, ...file }]);
    return text!;
  }

  /** Id and size of what each name, such as `COMMIT:PATH`, points at; null where that is no file. One process. */
  filesAt(
    id: string,
    names: readonly string[],
  ): Promise<readonly (Pick<TreeFile, 'oid' | 'bytes'> | null)[]> {
    return this.once(id, ['files', names], () => this.readFilesAt(id, names));
  }

  private async readFilesAt(
    id: string,
    names: readonly string[],
  ): Promise<readonly (Pick<TreeFile, 'oid' | 'bytes'> | null)[]> {
    // git is asked in lines, and takes it amiss when a name leads out of the tree.
    const asked = names.filter((name) => !/[\n\0]|:\/|[:/]\.{1,2}(?:\/|$)/.test(name));
    if (asked.length === 0) return names.map(() => null);
    const said = await this.clones.demand(
      id,
      ['cat-file', '--batch-check=%(objecttype) %(objectname) %(objectsize)'],
      { input: asked.map((name) => `${name}\n`).join('') },
    );
    const lines = said.split('\n');
    const found = new Map(
      asked.map((name, i) => {
        const [, oid, bytes] = /^blob (\S+) (\d+)$/.exec(lines[i] ?? '') ?? [];
        return [name, oid === undefined ? null : { oid, bytes: Number(bytes) }];
      }),
    );
    return names.map((name) => found.get(name) ?? null);
  }

  /** All files at a commit; links to elsewhere are left out. @param commit its id, or that of a tree */
  async tree(id: string, commit: string): Promise<readonly TreeFile[]> {
    const kept = this.contents.tree(id, commit);
    if (kept !== undefined) return kept;
    const tree = await this.readTree(id, commit);
    // Of a file that is still on its way git does not know the size.
    if (tree.every(({ bytes }) => Number.isFinite(bytes))) this.contents.keepTree(id, commit, tree);
    return tree;
  }

  private async readTree(id: string, commit: string): Promise<readonly TreeFile[]> {
    const said = await this.clones.demand(id, ['ls-tree', '-r', '-l', '-z', '--full-tree', commit]);
    return said.split('\0').flatMap((line) => {
      const [, mode, type, oid, bytes, path] = /^(\d+) (\w+) (\w+) +(\S+)\t(.*)$/s.exec(line) ?? [];
      return type === 'blob' && mode !== '120000'
        ? [{ oid: oid!, path: path!, bytes: Number(bytes) }]
        : [];
    });
  }

  /** The texts of files, in their order. Bytes that are no UTF-8 are read as well as can be. */
  async readBlobs(id: string, files: readonly TreeFile[]): Promise<readonly string[]> {
    return contentsOfBatch(await this.batch(id, files), files.length).map((content) =>
      content.toString('utf8'),
    );
  }

  private async batch(id: string, files: readonly TreeFile[]): Promise<Buffer> {
    if (files.length === 0) return Buffer.alloc(0);
    return this.clones.demandBytes(id, ['cat-file', '--batch'], {
      input: files.map(({ oid }) => `${oid}\n`).join(''),
    });
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
