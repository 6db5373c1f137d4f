import { execa } from 'execa';
import { gitSurroundings } from './git-surroundings.js';

export interface GitCall {
  /** The folder it runs in; the server's own when absent. */
  readonly cwd?: string;
  readonly env?: Readonly<Record<string, string>>;
  readonly input?: string;
  /** After so long it is ended, with all that it has started. */
  readonly limitMs: number;
  /** Ends it earlier. */
  readonly signal?: AbortSignal | undefined;
}

export interface GitAnswer {
  readonly exitCode: number;
  readonly stdout: Buffer;
  readonly stderr: string;
}

/** git did not end within its limit, or was stopped. */
export class GitEnded extends Error {
  constructor(
    readonly isStopped: boolean,
    readonly limitMs: number,
  ) {
    super(isStopped ? 'git was stopped' : `git did not end within ${limitMs} ms`);
  }
}

/** How much git may say. */
const MOST_SAID = 1 << 30;

/**
 * Runs git in a process group of its own, so that whatever it has started ends with it: a helper for a transport would
 * else live on, hold the connection and the pipes. It never asks anybody anything.
 * @throws GitEnded
 */
export async function runGit(
  args: readonly string[],
  { cwd, env = {}, input, limitMs, signal }: GitCall,
): Promise<GitAnswer> {
  if (signal?.aborted === true) throw new GitEnded(true, limitMs);
  const child = execa('git', args, {
    ...(cwd === undefined ? {} : { cwd }),
    env: { ...gitSurroundings(process.env), ...env },
    extendEnv: false,
    detached: true,
    reject: false,
    encoding: 'buffer',
    maxBuffer: MOST_SAID,
    stripFinalNewline: false,
    ...(input === undefined ? { stdin: 'ignore' as const } : { input }),
  });
  const { pid } = child;
  let ended: GitEnded | null = null;
  const end = (isStopped: boolean): void => {
    ended ??= new GitEnded(isStopped, limitMs);
    if (pid !== undefined) killGroup(pid);
  };
  const limit = setTimeout(() => end(false), limitMs);
  const stop = (): void => end(true);
  signal?.addEventListener('abort', stop, { once: true });
  try {
    const result = await child;
    if (ended !== null) throw ended as GitEnded;
    if (result.exitCode === undefined) throw new Error(`git ${args[0]}: ${result.shortMessage}`);
    return {
      exitCode: result.exitCode,
      stdout: Buffer.from(result.stdout),
      stderr: Buffer.from(result.stderr).toString('utf8'),
    };
  } finally {
    clearTimeout(limit);
    signal?.removeEventListener('abort', stop);
  }
}

function killGroup(pid: number): void {
  try {
    process.kill(-pid, 'SIGKILL');
  } catch (error) {
    // All of it has ended already.
    if ((error as NodeJS.ErrnoException).code !== 'ESRCH') throw error;
  }
}
