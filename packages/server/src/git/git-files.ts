import { Injectable } from '@nestjs/common';
import { ROOT_FILE, SHAPES_FILE, type WorkspaceFiles, workspaceFileTest } from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import { demandReadable, MOST_SHOWN_BYTES } from './file-limits.js';
import { contentsOfBatch, decoded, filesOfBatch } from './files-of-batch.js';
import { GitClones } from './git-clones.js';
import { KeptAnswers } from './kept-answers.js';
import { KeptContents, MOST_CHARACTERS, MOST_FILES } from './kept-contents.js';
import type { TreeFile } from './tree-file.js';

/** So many commits are read ahead, until their trees or their texts have half of what is kept of them. */
const COMMITS_AHEAD = 32;
const FILES_AHEAD = MOST_FILES / 2;
const BYTES_AHEAD = MOST_CHARACTERS / 2;

const NOTHING_ADDED: WorkspaceFiles = new Map();

/** Reads the files that commits have, from the clones. */
@Injectable()
export class GitFiles {
  private readonly kept = new KeptAnswers();
  private readonly contents = new KeptContents();

  constructor(private readonly clones: GitClones) {}

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
  async *filesOfEach<Commit extends { readonly commit: string }>(
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
    return this.kept.once(id, ['files', names], () => this.readFilesAt(id, names));
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
}
