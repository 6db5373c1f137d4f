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
    await this.pull();
    await this.write(files, message, 'main');
  }

  /** A branch from where main stands, with one commit. */
  async branch(name: string, files: Files): Promise<void> {
    await this.pull();
    await this.inWorkTree('checkout', '--quiet', '-b', name);
    await this.write(files, `On ${name}`, name);
    await this.inWorkTree('checkout', '--quiet', 'main');
  }

  private inWorkTree(...args: readonly string[]) {
    return execa('git', [...AUTHOR, ...args], { cwd: this.workTree });
  }

  private async pull(): Promise<void> {
    await this.inWorkTree('pull', '--quiet', '--rebase', 'origin', 'main').catch(() => undefined);
  }

  private async write(files: Files, message: string, branch: string): Promise<void> {
    for (const [path, text] of Object.entries(files)) {
      await mkdir(dirname(join(this.workTree, path)), { recursive: true });
      await writeFile(join(this.workTree, path), text);
    }
    await this.inWorkTree('add', '--all');
    await this.inWorkTree('commit', '--quiet', '--message', message);
    await this.inWorkTree('push', '--quiet', 'origin', branch);
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
