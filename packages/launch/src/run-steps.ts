import { execa } from 'execa';
import { Trouble } from './say.js';
import type { Count } from './test-reports.js';

/** Runs a program in a folder; what it says is kept until its step is over. */
export type Run = (
  program: string,
  args: readonly string[],
  cwd: string,
  env?: Readonly<Record<string, string>>,
) => Promise<{ readonly exitCode?: number | undefined }>;

export type Step = (run: Run) => Promise<Count>;

export interface StepsOptions {
  /** Where programs are looked for first. */
  readonly root: string;
  /** How many steps run at the same time. */
  readonly sideBySide: number;
  readonly say: (line: string) => void;
  /** Ends the programs that run and begins no more steps; those that run still clear away what they made. */
  readonly signal: AbortSignal;
}

/** A program that does not heed the word to end is killed after so long. */
const END_MS = 10_000;

/**
 * Runs steps of the tests side by side, in their order, and says what came of each as soon as it is over.
 * @returns the sum, with the failures of each step below its name; null where they were broken off
 */
export async function runSteps(
  steps: readonly (readonly [name: string, step: Step])[],
  { root, sideBySide, say, signal }: StepsOptions,
): Promise<Count | null> {
  const how = {
    preferLocal: true,
    localDir: root,
    reject: false,
    stdin: 'ignore',
    cancelSignal: signal,
    // As Ctrl+C does, which runners of tests heed by closing what they opened.
    killSignal: 'SIGINT',
    forceKillAfterDelay: END_MS,
  } as const;
  /** A step that runs alone is heard as it goes. */
  const runAloud: Run = (program, args, cwd, env = {}) =>
    execa(program, args, { ...how, cwd, env, stdout: 'inherit', stderr: 'inherit' });
  const runKeeping = async (said: string[], ...[program, args, cwd, env = {}]: Parameters<Run>) => {
    const result = await execa(program, args, { ...how, cwd, env, all: true });
    if (result.all !== '') said.push(result.all);
    return result;
  };

  const counts: Count[] = [];
  const waiting = [...steps];
  const work = async (): Promise<void> => {
    for (
      let next = waiting.shift();
      next !== undefined && !signal.aborted;
      next = waiting.shift()
    ) {
      const [name, step] = next;
      const began = performance.now();
      const said: string[] = [];
      const run: Run = steps.length === 1 ? runAloud : (...args) => runKeeping(said, ...args);
      const count = await step(run).catch(notBegun);
      if (signal.aborted) return;
      if (said.length > 0) say(said.join('\n'));
      say(`== ${name}: ${wordsOf(count)}, ${((performance.now() - began) / 1000).toFixed(0)} s`);
      const failures = [name, ...count.failures].join('\n').replaceAll('\n', '\n  ');
      counts.push({ ...count, failures: count.failed > 0 ? [failures] : [] });
    }
  };
  await Promise.all(Array.from({ length: sideBySide }, work));
  if (signal.aborted) return null;
  const sum = (of: (count: Count) => number): number =>
    counts.reduce((all, one) => all + of(one), 0);
  return {
    passed: sum(({ passed }) => passed),
    failed: sum(({ failed }) => failed),
    skipped: sum(({ skipped }) => skipped),
    failures: counts.flatMap(({ failures }) => failures),
  };
}

/** A step that could not be gone through is red, and says why. */
function notBegun(error: unknown): Count {
  const why = error instanceof Trouble ? error.message : ((error as Error).stack ?? String(error));
  return { passed: 0, failed: 1, skipped: 0, failures: [why] };
}

/** What came of tests, in one line. */
export function wordsOf({ passed, failed, skipped }: Omit<Count, 'failures'>): string {
  return `${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`;
}
