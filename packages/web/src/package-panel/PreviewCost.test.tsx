import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { fireEvent, render, screen } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import type { Candidate, LevelPreview } from '@deep-ledger/core';
import { isPencilled, markVersion } from './mark-version';
import { PreviewCost } from './PreviewCost';

const RESULT = {
  kind: 'answered',
  copies: 2,
  allCopies: 70,
  off: 0,
  change: { entered: [{ name: 'a', version: '1' }], left: [], moved: [] },
  peersBroken: [],
} as const;
const PREVIEW: LevelPreview = {
  version: '3.2.4',
  range: '^3.2.4',
  allowedBy: ['a', 'b', 'c', 'd'],
  takers: ['apps/kiosk'],
  files: 1,
  majorSteps: 1,
  result: RESULT,
};

function show(
  preview: LevelPreview | null,
  isPencilledIn = false,
  role: 'reader' | 'editor' = 'editor',
) {
  const onPencil = vi.fn();
  const queries = new QueryClient();
  queries.setQueryData(['session'], { account: { role }, csrf: '', isEmpty: false });
  render(
    <QueryClientProvider client={queries}>
      <PreviewCost
        name="scree-log"
        mark="3.2.4"
        preview={preview}
        isDeprecated={false}
        projects={13}
        set="moraine"
        names={new Map([['apps/kiosk', 'season-kiosk']])}
        isBusy={false}
        isPencilled={isPencilledIn}
        onPencil={onPencil}
      />
    </QueryClientProvider>,
  );
  return onPencil;
}

test('the cost is told in sentences, and the step can be taken', () => {
  const onPencil = show(PREVIEW);
  expect(screen.getByText('4 of 13 already allow it.')).toBeTruthy();
  expect(screen.getByText('1 file changes.').title).toBe('season-kiosk');
  expect(screen.getByText('1 project gets another major version.')).toBeTruthy();
  expect(screen.getByText('The whole set moraine moves with it.')).toBeTruthy();
  expect(screen.getByText('In the lockfile 1 copy enters.')).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Pencil it in' }));
  expect(onPencil).toHaveBeenCalledOnce();
});

test('a reader sees that it is not for them, and why, before the click', () => {
  const onPencil = show(PREVIEW, false, 'reader');
  const button = screen.getByRole('button', { name: 'Pencil it in' });
  expect(button.title).toMatch(/^A reader looks/);
  fireEvent.click(button);
  expect(onPencil).not.toHaveBeenCalled();
});

test('what has no answer says why, each sentence once, and cannot be pencilled in', () => {
  const result = { kind: 'unanswered', sentences: ['Because.', 'Because.'] } as const;
  const onPencil = show({ ...PREVIEW, result });
  expect(screen.getAllByText('Because.')).toHaveLength(1);
  fireEvent.click(screen.getByRole('button', { name: 'Pencil it in' }));
  expect(onPencil).not.toHaveBeenCalled();
});

test('a peer that would break is named', () => {
  const peer = {
    copy: 'grid 1.0.0',
    name: 'state',
    range: '^2.0.0',
    provider: 'web',
    version: null,
  };
  show({ ...PREVIEW, result: { ...RESULT, peersBroken: [{ ...peer, chain: [] }] } });
  expect(
    screen.getByText('grid 1.0.0 asks for state ^2.0.0 beside it and gets none.'),
  ).toBeTruthy();
});

test('while a version is being tried nothing can be pencilled in', () => {
  show(null);
  expect(screen.getByText('Working it out.')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Pencil it in' })).toHaveProperty('disabled', true);
});

test('what is in pencil already offers no second time', () => {
  show(PREVIEW, true);
  expect(screen.queryByRole('button')).toBeNull();
});

test('the mark stands at the version in the address, else at the first candidate', () => {
  const candidates = [{ version: '3.2.4' }, { version: '4.0.0' }] as Candidate[];
  expect(markVersion(candidates, '4.0.0')).toBe('4.0.0');
  expect(markVersion(candidates, null)).toBe('3.2.4');
  expect(markVersion([], null)).toBeNull();
});

test('pencilled means that the draft agrees on the same range', () => {
  const edits = [{ kind: 'set-shared', package: 'a', range: '^1.0.0' }] as const;
  expect(isPencilled(edits, 'a', '^1.0.0')).toBe(true);
  expect(isPencilled(edits, 'a', '^2.0.0')).toBe(false);
  const level = { kind: 'level', package: 'a', range: '^3.0.0', projects: ['apps/web'] } as const;
  expect(isPencilled([{ ...level, projects: [...level.projects] }], 'a', '^3.0.0')).toBe(true);
  expect(isPencilled(null, 'a', '^1.0.0')).toBe(false);
});
