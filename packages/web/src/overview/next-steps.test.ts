import { expect, test } from 'vitest';
import type { Overview, WorkspaceState } from '../api/client';
import { nextSteps } from './NextSteps';

const STATE = {
  problems: [],
  lock: { state: 'consistent', reasons: [] },
  outOfLine: 0,
  machinesBehind: 0,
  archivesMissing: 0,
} as unknown as WorkspaceState;
const OVERVIEW = { now: { error: 0 }, remedies: [] } as unknown as Overview;

test('where all is in order nothing is left to do', () => {
  expect(nextSteps(STATE, OVERVIEW)).toEqual([]);
});

test('what stands in the way of posting comes first, at most five steps are named', () => {
  const state = {
    ...STATE,
    problems: [{}],
    lock: { state: 'stale', reasons: [{}, {}] },
    outOfLine: 3,
    machinesBehind: 1,
  } as unknown as WorkspaceState;
  const overview = { now: { error: 2 }, remedies: [{}] } as unknown as Overview;
  const steps = nextSteps(state, overview);
  expect(steps.map(({ to }) => to)).toEqual([
    'findings?kind=unreadable',
    'lockfile',
    'findings?clear=yes',
    'findings?severity=error',
    'alignment?show=out',
  ]);
  expect(steps[1]!.why).toBe('It is stale: 2 reasons.');
});
