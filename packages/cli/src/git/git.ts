import { execa } from 'execa';

/** Git said no; the message is what it said. */
export class GitError extends Error {
  override readonly name = 'GitError';
}

export interface GitResult {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

/** Runs git and hands back how it ended, whatever that is. */
export async function tryGit(
  folder: string,
  args: readonly string[],
  options: { readonly input?: string; readonly env?: Readonly<Record<string, string>> } = {},
): Promise<GitResult> {
  const { exitCode, stdout, stderr } = await execa('git', args, {
    cwd: folder,
    reject: false,
    stripFinalNewline: false,
    maxBuffer: 1 << 30,
    ...options,
  });
  if (exitCode === undefined) throw new GitError('The program git cannot be run. Install git.');
  return { code: exitCode, out: stdout, err: stderr };
}

/** What git prints. @throws GitError where it fails */
export async function git(
  folder: string,
  args: readonly string[],
  options: Parameters<typeof tryGit>[2] = {},
): Promise<string> {
  const { code, out, err } = await tryGit(folder, args, options);
  if (code !== 0) throw new GitError(err.trim() || `git ${args[0]} ended with ${code}.`);
  return out;
}
