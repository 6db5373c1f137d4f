import { expect, test } from 'vitest';
import { runSteps, type Run, type Step } from './run-steps.js';
import { Trouble } from './say.js';
import type { Count } from './test-reports.js';

const GREEN: Count = { passed: 2, failed: 0, skipped: 0, failures: [] };

function options(sideBySide: number) {
  const said: string[] = [];
  const stopping = new AbortController();
  const say = (line: string) => void said.push(line);
  return { said, stopping, how: { root: process.cwd(), sideBySide, say, signal: stopping.signal } };
}

const node = (run: Run, program: string) => run(process.execPath, ['-e', program], process.cwd());

test('each says what came of it, with what its programs said; the sum has what failed below the name of its step', async () => {
  const { said, how } = options(1);
  const green: Step = async (run) => {
    await node(run, 'console.log("all is well")');
    return GREEN;
  };
  const red: Step = async (run) => {
    const { exitCode } = await node(run, 'process.exit(3)');
    return { passed: 0, failed: 1, skipped: 1, failures: [`ended with ${exitCode}\nhere`] };
  };
  const sum = await runSteps(
    [
      ['first', green],
      ['second', red],
    ],
    how,
  );
  expect(said).toEqual([
    'all is well',
    expect.stringMatching(/^== first: 2 passed, 0 failed, \d+ s$/),
    expect.stringMatching(/^== second: 0 passed, 1 failed, 1 skipped, \d+ s$/),
  ]);
  const failures = ['second\n  ended with 3\n  here'];
  expect(sum).toEqual({ passed: 2, failed: 1, skipped: 1, failures });
});

test('a step that cannot begin is red, and the others are gone through', async () => {
  const { how } = options(1);
  const lost: Step = () => Promise.reject(new Trouble('PostgreSQL did not start.'));
  const sum = await runSteps(
    [
      ['lost', lost],
      ['other', () => Promise.resolve(GREEN)],
    ],
    how,
  );
  const failures = ['lost\n  PostgreSQL did not start.'];
  expect(sum).toEqual({ passed: 2, failed: 1, skipped: 0, failures });
});

test('broken off, the programs that run are ended, what was made for them is cleared away, and nothing more begins', async () => {
  const { said, stopping, how } = options(2);
  const did: string[] = [];
  const long =
    (name: string): Step =>
    async (run) => {
      try {
        const ended = node(run, 'setInterval(() => undefined, 1000)');
        did.push(`${name} runs`);
        if (did.length === 2) stopping.abort();
        await ended;
        return GREEN;
      } finally {
        did.push(`${name} cleared away`);
      }
    };
  const steps = ['one', 'other', 'waiting'].map((name) => [name, long(name)] as const);
  expect(await runSteps(steps, how)).toBeNull();
  expect(did.slice(0, 2)).toEqual(['one runs', 'other runs']);
  expect(did.slice(2).sort()).toEqual(['one cleared away', 'other cleared away']);
  expect(said).toEqual([]);
});
