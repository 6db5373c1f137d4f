import { fireEvent, render, screen } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import { ChainList, type Step } from './ChainList';

const step = (id: string, written: string | null, link: Step['link'] = 'runtime'): Step => {
  const [name = id, version] = id.split(' ');
  return {
    id,
    kind: version === undefined ? 'project' : 'copy',
    name,
    version: version ?? null,
    written,
    link: written === null ? null : link,
  };
};
const CHAIN = {
  steps: [step('apps/web', null), step('log 1.0.0', '^1.0.0', 'dev'), step('json 2.0.0', '~2.0.0')],
};

function show() {
  const onChoose = vi.fn();
  const onStrike = vi.fn();
  render(
    <ChainList
      chains={[CHAIN]}
      ends={['json 1.0.0', 'json 2.0.0']}
      onChoose={onChoose}
      onStrike={onStrike}
    />,
  );
  return { onChoose, onStrike };
}

test('a chain is a sentence with the range of each step, and kinds that are not usual', () => {
  show();
  expect(screen.getByRole('listitem').textContent).toBe(
    'apps/web → log ^1.0.0 dev → json ~2.0.02.0.0',
  );
});

test('each arrow strikes out its own step', () => {
  const { onStrike } = show();
  const [first, second] = CHAIN.steps;
  fireEvent.click(
    screen.getByRole('button', { name: 'What if log 1.0.0 did not require json 2.0.0' }),
  );
  expect(onStrike).toHaveBeenLastCalledWith(second, CHAIN.steps[2]);
  fireEvent.click(
    screen.getByRole('button', { name: 'What if apps/web did not require log 1.0.0' }),
  );
  expect(onStrike).toHaveBeenLastCalledWith(first, second);
});

test('a name chooses its node', () => {
  const { onChoose } = show();
  fireEvent.click(screen.getByRole('button', { name: 'json' }));
  expect(onChoose).toHaveBeenCalledExactlyOnceWith('json 2.0.0');
});
