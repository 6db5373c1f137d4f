import { spawn, type ChildProcess } from 'node:child_process';
import type { Readable } from 'node:stream';
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
  const child = spawn('git', args, {
    ...(cwd === undefined ? {} : { cwd }),
    env: { ...gitSurroundings(process.env), ...env },
    detached: true,
    stdio: [input === undefined ? 'ignore' : 'pipe', 'pipe', 'pipe'],
  });
  const { pid } = child;
  let why: Error | null = null;
  const end = (reason: Error): void => {
    why ??= reason;
    if (pid !== undefined) killGroup(pid);
  };
  const limit = setTimeout(() => end(new GitEnded(false, limitMs)), limitMs);
  const stop = (): void => end(new GitEnded(true, limitMs));
  const tooMuch = (): void => end(new Error(`git ${args[0]} says more than is taken`));
  signal?.addEventListener('abort', stop, { once: true });
  // A git that has failed reads no further; how it ended says why.
  child.stdin?.on('error', () => undefined).end(input);
  try {
    const [exitCode, stdout, stderr] = await Promise.all([
      endOf(child),
      saidOn(child.stdout!, tooMuch),
      saidOn(child.stderr!, tooMuch),
    ]);
    if (why !== null) throw why as Error;
    if (exitCode === null) throw new Error(`git ${args[0]} was ended from outside`);
    return { exitCode, stdout, stderr: stderr.toString('utf8') };
  } finally {
    clearTimeout(limit);
    signal?.removeEventListener('abort', stop);
  }
}

/** Its exit code; null: a signal ended it. @throws where it cannot be started */
function endOf(child: ChildProcess): Promise<number | null> {
  return new Promise((resolve, reject) => {
    child.once('error', reject).once('close', resolve);
  });
}

async function saidOn(stream: Readable, tooMuch: () => void): Promise<Buffer> {
  const parts: Buffer[] = [];
  let bytes = 0;
  for await (const part of stream as AsyncIterable<Buffer>) {
    bytes += part.length;
    if (bytes <= MOST_SAID) parts.push(part);
    else tooMuch();
  }
  return Buffer.concat(parts);
}

function killGroup(pid: number): void {
  try {
    process.kill(-pid, 'SIGKILL');
  } catch (error) {
    // All of it has ended already.
    if ((error as NodeJS.ErrnoException).code !== 'ESRCH') throw error;
  }
}
