import { cleanup, fireEvent, screen } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import type { Without } from '../api/client';
import { showInFrame } from '../test/show-in-frame';
import { StruckLinks } from './StruckLinks';

const STRUCK = [
  { from: 'log 1.0.0', to: 'json 1.0.0' },
  { from: 'log 2.0.0', to: 'json 1.0.0' },
];

function show(without: Without | undefined, error: Error | null = null) {
  const onTakeBack = vi.fn();
  showInFrame(
    <StruckLinks
      slug="small"
      struck={STRUCK}
      without={without}
      error={error}
      onTakeBack={onTakeBack}
    />,
  );
  return { onTakeBack, text: () => screen.getByRole('region').textContent };
}

test.each([
  [{ copies: [], bytes: 0 }, /Nothing would leave/],
  [{ copies: ['json 1.0.0'], bytes: 2000 }, /1 copy and 2(\.0)? kB would leave: json 1\.0\.0\./],
  [
    { copies: Array.from({ length: 30 }, (_, i) => `c${i} 1.0.0`), bytes: 3e6 },
    /30 copies and 3(\.0)? MB would leave: c0 1\.0\.0, .* and 6 more\./,
  ],
])('tells what would leave: %j', (found, words) => {
  expect(show({ commit: 'c', ...found }).text()).toMatch(words);
});

test('while it is not known yet, and where it cannot be known, that is said', () => {
  expect(show(undefined).text()).toMatch(/Following what is left/);
  cleanup();
  expect(show(undefined, new Error('no answer')).text()).not.toMatch(/Following/);
});

test('names each owner once, and takes one back', () => {
  const { onTakeBack } = show({ commit: 'c', copies: [], bytes: 0 });
  expect(screen.getAllByRole('link').map(({ textContent }) => textContent)).toEqual(['log']);
  fireEvent.click(screen.getAllByRole('button', { name: 'Take back' })[1]!);
  expect(onTakeBack).toHaveBeenCalledExactlyOnceWith(1);
});
