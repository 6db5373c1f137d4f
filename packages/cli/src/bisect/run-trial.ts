import { spawn } from 'node:child_process';
import { open } from 'node:fs/promises';
import { UnreadableFile } from '../unreadable-file.js';

/** How a command ended. */
export interface TrialEnd {
  /** Null: a signal ended it, or it was ended. */
  readonly code: number | null;
  readonly isLate: boolean;
}

/**
 * Runs a command, what it prints going into a file, and ends it with all that it has started when it takes too long.
 * @param limitMs so long it may take
 * @param signal ends it too
 * @throws UnreadableFile where it cannot be begun
 */
export async function runTrial(
  command: readonly [program: string, ...args: readonly string[]],
  folder: string,
  printed: string,
  limitMs: number,
  signal: AbortSignal,
): Promise<TrialEnd> {
  const [program, ...args] = command;
  const file = await open(printed, 'w');
  try {
    return await new Promise<TrialEnd>((resolve, reject) => {
      const stdio: ['ignore', number, number] = ['ignore', file.fd, file.fd];
      // A group of its own, so that what it starts can be ended with it.
      const child = spawn(program, args, { cwd: folder, stdio, detached: true });
      let isLate = false;
      const end = (): void => {
        if (child.pid === undefined) return;
        try {
          process.kill(-child.pid, 'SIGKILL');
        } catch {
          // It is over already.
        }
      };
      const timer = setTimeout(() => {
        isLate = true;
        end();
      }, limitMs);
      signal.addEventListener('abort', end);
      const over = (): void => {
        clearTimeout(timer);
        signal.removeEventListener('abort', end);
      };
      child.on('error', (error: NodeJS.ErrnoException) => {
        over();
        const why = error.code === 'ENOENT' ? 'there is no such program' : error.message;
        reject(new UnreadableFile(`${program} cannot be run: ${why}.`));
      });
      child.on('close', (code) => {
        over();
        // Processes that it left running would disturb the next trial.
        end();
        resolve({ code, isLate });
      });
    });
  } finally {
    await file.close();
  }
}
