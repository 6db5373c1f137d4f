import { execFile } from 'node:child_process';
import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

import { lockCommand } from '../lock-command.js';

export const COMMAND = fileURLToPath(new URL('../../../../bin/deep-ledger', import.meta.url));

export interface Result {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

const SILENT = {
  say: () => {},
  complain: () => {},
  progress: () => {},
  mark: (text: string) => text,
};

/** Settings of the machine are left out, so that only what a test sets counts. */
const ENV = {
  ...process.env,
  GIT_CONFIG_GLOBAL: '/dev/null',
  GIT_CONFIG_SYSTEM: '/dev/null',
  GIT_AUTHOR_NAME: 'kiosk crew',
  GIT_AUTHOR_EMAIL: 'kiosk@brindlepeak.example',
  GIT_COMMITTER_NAME: 'kiosk crew',
  GIT_COMMITTER_EMAIL: 'kiosk@brindlepeak.example',
  GIT_EDITOR: 'true',
};

/** A git work tree in a temporary folder, and a folder of registry documents beside it. */
export class TestClone {
  private constructor(
    private readonly home: string,
    readonly folder: string,
    readonly registry: string,
  ) {}

  static async with(documents: ReadonlyMap<string, object>): Promise<TestClone> {
    const home = await mkdtemp(join(tmpdir(), 'clone-'));
    const clone = new TestClone(home, join(home, 'tree'), join(home, 'registry'));
    await mkdir(clone.folder);
    await mkdir(clone.registry);
    for (const [name, document] of documents)
      await writeFile(join(clone.registry, name), JSON.stringify(document));
    await clone.git('init', '--quiet', '--initial-branch=main');
    return clone;
  }

  async write(files: ReadonlyMap<string, string>): Promise<void> {
    for (const [path, text] of files) {
      await mkdir(dirname(join(this.folder, path)), { recursive: true });
      await writeFile(join(this.folder, path), text);
    }
  }

  read(path: string): Promise<string> {
    return readFile(join(this.folder, path), 'utf8');
  }

  /** In this process, which is quicker. @returns false where nothing answers the manifests */
  async lock(): Promise<boolean> {
    const options = { in: this.folder, registry: [this.registry], asOf: '2025-01-01' };
    return (await lockCommand(options, SILENT)) === 0;
  }

  run(...args: readonly string[]): Promise<Result> {
    return this.program(COMMAND, args);
  }

  /** However it ends. */
  tryGit(...args: readonly string[]): Promise<Result> {
    return this.program('git', args);
  }

  /** @throws where git fails */
  async git(...args: readonly string[]): Promise<string> {
    const { code, out, err } = await this.tryGit(...args);
    if (code !== 0) throw new Error(`git ${args.join(' ')}: ${out}${err}`);
    return out;
  }

  async commit(message: string): Promise<void> {
    await this.git('add', '--all');
    await this.git('commit', '--quiet', '--no-verify', '--allow-empty', '-m', message);
  }

  async remove(): Promise<void> {
    await rm(this.home, { recursive: true });
  }

  private program(name: string, args: readonly string[]): Promise<Result> {
    return new Promise((resolve) => {
      execFile(name, args, { cwd: this.folder, env: ENV }, (error, out, err) => {
        resolve({ code: typeof error?.code === 'number' ? error.code : error ? 255 : 0, out, err });
      });
    });
  }
}
