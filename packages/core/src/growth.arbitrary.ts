import { expect } from 'vitest';
import { Session } from 'node:inspector';

/*
 * Counts each block of the program as it is entered. The engine puts counters only into code that it reads after this:
 * a test that counts imports this file first and has a process of its own (see vitest.config.ts).
 */

const session = new Session();
session.connect();
ask('Profiler.enable');
ask('Profiler.startPreciseCoverage', { callCount: true, detailed: true });

/** What the engine tells: a count for each block of code. */
interface Coverage {
  readonly result: readonly {
    readonly url: string;
    readonly functions: readonly { readonly ranges: readonly { readonly count: number }[] }[];
  }[];
}

/** The engine answers within the call. */
function ask(method: string, params: object = {}): unknown {
  let answer: unknown = null;
  session.post(method, params, (error, result) => {
    if (error !== null) throw error;
    answer = result;
  });
  return answer;
}

/** Steps since the last time, without those of counting. */
function taken(): number {
  const { result } = ask('Profiler.takePreciseCoverage') as Coverage;
  return result
    .filter(({ url }) => !url.endsWith('growth.arbitrary.ts'))
    .flatMap(({ functions }) => functions.flatMap(({ ranges }) => ranges))
    .reduce((sum, { count }) => sum + count, 0);
}

/**
 * Steps that a run takes: how often each block of code is entered. The same on every machine and beside any other work.
 * What the engine does within one call, such as copying a text, counts as one; `bench/` measures time.
 */
function countSteps(run: () => unknown): number {
  taken();
  run();
  return taken();
}

/**
 * Expects work to grow with its size: ten times as much may take twenty times as many steps, as sorting does. The square
 * would take a hundred times as many.
 * @param at makes the work of a size; what that takes is not counted
 */
export function expectInProportion(size: number, at: (size: number) => () => unknown): void {
  const [few, many] = [at(size / 10), at(size)];
  const small = countSteps(few);
  expect(countSteps(many), 'steps').toBeLessThan(small * 20);
}
