import { mkdtemp, mkdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { execa } from 'execa';

export type Files = Readonly<Record<string, string>>;

const AUTHOR = ['-c', 'user.name=gate crew', '-c', 'user.email=gate.crew@brindlepeak.example'];

/** A real git repository, bare, with a work tree beside it through which others commit. */
export class TestRepository {
  private constructor(
    private readonly folder: string,
    /** Path of the bare repository. */
    readonly address: string,
    readonly workTree: string,
  ) {}

  static async with(files: Files): Promise<TestRepository> {
    const folder = await mkdtemp(join(tmpdir(), 'deep-ledger-test-'));
    const repository = new TestRepository(folder, join(folder, 'bare.git'), join(folder, 'work'));
    await execa('git', ['init', '--quiet', '--bare', '--initial-branch=main', repository.address]);
    await execa('git', ['clone', '--quiet', repository.address, repository.workTree], {
      stderr: 'ignore',
    });
    await execa('git', ['checkout', '--quiet', '-B', 'main'], { cwd: repository.workTree });
    await repository.commit(files, 'First');
    return repository;
  }

  async git(...args: readonly string[]): Promise<string> {
    return (await execa('git', args, { cwd: this.address, stripFinalNewline: false })).stdout;
  }

  /** Commits files to main past the server. */
  async commit(files: Files, message: string): Promise<void> {
    const git = (...args: readonly string[]) =>
      execa('git', [...AUTHOR, ...args], { cwd: this.workTree });
    await git('pull', '--quiet', '--rebase', 'origin', 'main').catch(() => undefined);
    for (const [path, text] of Object.entries(files)) {
      await mkdir(dirname(join(this.workTree, path)), { recursive: true });
      await writeFile(join(this.workTree, path), text);
    }
    await git('add', '--all');
    await git('commit', '--quiet', '--message', message);
    await git('push', '--quiet', 'origin', 'main');
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
