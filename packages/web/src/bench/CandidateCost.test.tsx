import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import type { Bench, Candidate, Draft } from '../api/client';
import { CandidateCost } from './CandidateCost';
import { chosenCandidate, isPencilled } from './chosen-candidate';

afterEach(cleanup);

const CANDIDATE: Candidate = {
  version: '3.2.4',
  range: '^3.2.4',
  allowedBy: 4,
  manifests: 1,
  isAnswered: true,
  copies: 2,
  off: 0,
  change: { entered: [{ name: 'a', version: '1' }], left: [], moved: [] },
  sentences: [],
  isNewest: false,
  isSuggested: false,
  isAgreed: false,
  deprecated: null,
};

function show(candidate: Candidate, isPencilledIn = false) {
  const onPencil = vi.fn();
  render(
    <CandidateCost
      name="scree-log"
      candidate={candidate}
      projects={13}
      set="moraine"
      isBusy={false}
      isPencilled={isPencilledIn}
      onPencil={onPencil}
    />,
  );
  return onPencil;
}

test('the cost is told in sentences, and the step can be taken', () => {
  const onPencil = show(CANDIDATE);
  expect(screen.getByText('4 of 13 already allow it.')).toBeTruthy();
  expect(screen.getByText('1 file changes.')).toBeTruthy();
  expect(screen.getByText('The whole set moraine moves with it.')).toBeTruthy();
  expect(screen.getByText('In the lockfile 1 copy enters.')).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Pencil it in' }));
  expect(onPencil).toHaveBeenCalledOnce();
});

test('what has no answer says why, each sentence once, and cannot be pencilled in', () => {
  const onPencil = show({
    ...CANDIDATE,
    isAnswered: false,
    copies: null,
    change: null,
    sentences: ['Because.', 'Because.'],
  });
  expect(screen.getAllByText('Because.')).toHaveLength(1);
  fireEvent.click(screen.getByRole('button', { name: 'Pencil it in' }));
  expect(onPencil).not.toHaveBeenCalled();
});

test('what is in pencil already offers no second time', () => {
  show(CANDIDATE, true);
  expect(screen.queryByRole('button')).toBeNull();
});

test('the candidate is the one in the address, else the one to begin with', () => {
  const candidates = [
    { ...CANDIDATE, version: '4.0.0' },
    { ...CANDIDATE, version: '3.2.4', isSuggested: true },
  ];
  const bench = { candidates } as Bench;
  expect(chosenCandidate(bench, '4.0.0')?.version).toBe('4.0.0');
  expect(chosenCandidate(bench, '9.9.9')?.version).toBe('3.2.4');
  expect(chosenCandidate({ candidates: [] as Candidate[] } as Bench, null)).toBeNull();
});

test('pencilled means that the draft agrees on the same range', () => {
  const edit = { kind: 'set-shared', package: 'a', range: '^1.0.0' } as const;
  const draft = { edits: [{ edit }] } as unknown as Draft;
  expect(isPencilled(draft, 'a', '^1.0.0')).toBe(true);
  expect(isPencilled(draft, 'a', '^2.0.0')).toBe(false);
  expect(isPencilled(undefined, 'a', '^1.0.0')).toBe(false);
});
