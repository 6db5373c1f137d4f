import { closeSync, fchmodSync, openSync } from 'node:fs';
import { execa } from 'execa';
import { Trouble } from './say.js';

/** A program of ours that runs beside the launcher, in a process group of its own, so that Ctrl+C reaches the launcher alone. */
export interface Part {
  readonly name: string;
  readonly pid: number;
  /** Resolves when it has ended, for whatever reason. */
  readonly ended: Promise<void>;
  stop(): Promise<void>;
}

const STOP_MS = 5_000;
const READY_MS = 60_000;

/**
 * Starts a part and waits until it answers.
 * @param probe an address that answers with a good status once the part is ready; null: it answers nobody
 * @throws Trouble with the place of its log, if it ends first or does not answer within a minute
 */
export async function startPart(
  name: string,
  script: readonly string[],
  env: Readonly<Record<string, string>>,
  logFile: string,
  probe: string | null,
  signal?: AbortSignal,
): Promise<Part> {
  // Only the person who runs the server may read the log.
  const log = openSync(logFile, 'w', 0o600);
  fchmodSync(log, 0o600);
  const child = execa(process.execPath, script, {
    env,
    stdin: 'ignore',
    stdout: { file: logFile, append: true },
    stderr: { file: logFile, append: true },
    detached: true,
    reject: false,
  });
  closeSync(log);
  const ended = child.then(() => undefined);
  const part: Part = {
    name,
    pid: child.pid ?? 0,
    ended,
    stop: async () => {
      child.kill('SIGTERM');
      const force = setTimeout(() => child.kill('SIGKILL'), STOP_MS);
      await ended;
      clearTimeout(force);
    },
  };
  let isEnded = false;
  void ended.then(() => (isEnded = true));
  const deadline = Date.now() + READY_MS;
  while (probe !== null && !(await answers(probe))) {
    if (isEnded) throw new Trouble(`The ${name} did not start. See ${logFile}.`);
    if (signal?.aborted === true) {
      await part.stop();
      throw new Trouble('stopped before it was ready');
    }
    if (Date.now() > deadline) {
      await part.stop();
      throw new Trouble(
        `The ${name} runs but does not answer at ${probe} as it should. See ${logFile}.`,
      );
    }
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  return part;
}

async function answers(address: string): Promise<boolean> {
  try {
    return (await fetch(address, { signal: AbortSignal.timeout(5_000) })).ok;
  } catch {
    return false;
  }
}
