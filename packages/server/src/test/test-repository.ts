import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { execa } from 'execa';

export type Files = Readonly<Record<string, string>>;

const NAME = 'gate crew';
const EMAIL = 'gate.crew@brindlepeak.example';
const AUTHOR = ['-c', `user.name=${NAME}`, '-c', `user.email=${EMAIL}`];

/** A real git repository, bare; others commit to it past the server. */
export class TestRepository {
  private constructor(
    private readonly folder: string,
    /** Path of the bare repository. */
    readonly address: string,
  ) {}

  static async with(files: Files): Promise<TestRepository> {
    const folder = await mkdtemp(join(tmpdir(), 'deep-ledger-test-'));
    const repository = new TestRepository(folder, join(folder, 'bare.git'));
    await execa('git', ['init', '--quiet', '--bare', '--initial-branch=main', repository.address]);
    await repository.put(files, 'First', 'main', null);
    return repository;
  }

  async git(...args: readonly string[]): Promise<string> {
    return (await execa('git', args, { cwd: this.address, stripFinalNewline: false })).stdout;
  }

  /** Commits files to main. */
  commit(files: Files, message: string): Promise<void> {
    return this.put(files, message, 'main', 'main');
  }

  /** A branch from where main stands, with one commit. */
  branch(name: string, files: Files): Promise<void> {
    return this.put(files, `On ${name}`, name, 'main');
  }

  /** A clone with a work tree, on main as it stands. @returns its folder */
  async workTree(): Promise<string> {
    const folder = await mkdtemp(join(this.folder, 'work-'));
    await execa('git', ['clone', '--quiet', '--branch', 'main', this.address, folder]);
    return folder;
  }

  /** Commits to main all that was done in a work tree. */
  async commitFrom(workTree: string, message: string): Promise<void> {
    const git = (...args: readonly string[]) =>
      execa('git', [...AUTHOR, ...args], { cwd: workTree });
    await git('add', '--all');
    await git('commit', '--quiet', '--message', message);
    await git('push', '--quiet', 'origin', 'main');
  }

  private async put(
    files: Files,
    message: string,
    branch: string,
    parent: string | null,
  ): Promise<void> {
    const data = (text: string): string => `data ${Buffer.byteLength(text)}\n${text}\n`;
    const input = [
      `commit refs/heads/${branch}\n`,
      `committer ${NAME} <${EMAIL}> ${Math.floor(Date.now() / 1000)} +0000\n`,
      data(`${message}\n`),
      parent === null ? '' : `from refs/heads/${parent}^0\n`,
      ...Object.entries(files).map(
        ([path, text]) => `M 100644 inline ${JSON.stringify(path)}\n${data(text)}`,
      ),
    ].join('');
    await execa('git', ['fast-import', '--quiet'], { cwd: this.address, input });
  }

  async head(): Promise<string> {
    return (await this.git('rev-parse', 'main')).trim();
  }

  file(path: string): Promise<string> {
    return this.git('show', `main:${path}`);
  }

  remove(): Promise<void> {
    return rm(this.folder, { recursive: true, force: true });
  }
}
