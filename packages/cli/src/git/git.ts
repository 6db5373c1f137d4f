import { execFile } from 'node:child_process';

/** Git said no; the message is what it said. */
export class GitError extends Error {
  override readonly name = 'GitError';
}

export interface GitResult {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

interface GitOptions {
  readonly input?: string;
  readonly env?: Readonly<Record<string, string>>;
}

/** More than git prints of any repository. */
const MOST_BYTES = 1 << 30;

/** Runs git and hands back how it ended, whatever that is. @throws GitError where it cannot be run, or was ended from outside */
export async function tryGit(
  folder: string,
  args: readonly string[],
  options: GitOptions = {},
): Promise<GitResult> {
  const { code, out, err } = await run(folder, args, options);
  return { code, out: out.toString(), err };
}

/** What git prints. @throws GitError where it fails */
export async function git(
  folder: string,
  args: readonly string[],
  options: GitOptions = {},
): Promise<string> {
  return (await gitBytes(folder, args, options)).toString();
}

/** What git prints, as it is. @throws GitError where it fails */
export async function gitBytes(
  folder: string,
  args: readonly string[],
  options: GitOptions = {},
): Promise<Buffer> {
  const { code, out, err } = await run(folder, args, options);
  if (code !== 0) throw new GitError(err.trim() || `git ${args[0]} ended with ${code}.`);
  return out;
}

function run(
  cwd: string,
  args: readonly string[],
  { input = '', env = {} }: GitOptions,
): Promise<{ readonly code: number; readonly out: Buffer; readonly err: string }> {
  return new Promise((resolve, reject) => {
    const child = execFile(
      'git',
      args,
      { cwd, env: { ...process.env, ...env }, encoding: 'buffer', maxBuffer: MOST_BYTES },
      (error, out, err) => {
        const code = error === null ? 0 : error.code;
        if (typeof code === 'number') resolve({ code, out, err: err.toString() });
        else if (code === 'ENOENT')
          reject(new GitError('The program git cannot be run. Install git.'));
        else reject(new GitError(`git ${args[0]} did not end by itself: ${error?.message}`));
      },
    );
    // A git that has failed reads no further; how it ended says why.
    child.stdin!.on('error', () => undefined).end(input);
  });
}
