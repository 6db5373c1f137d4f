import { fireEvent, render, screen } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import type { CentralisingLine } from '../api/client';
import { CentraliseTable } from './CentraliseTable';

const move = { project: 'apps/kiosk', kind: 'runtime', range: '^1.0.0', from: '1.2.0' } as const;
const LINES: CentralisingLine[] = [
  {
    package: 'tape',
    set: null,
    agreed: null,
    choices: [{ range: '^1.0.0', takes: ['apps/web', 'apps/kit'], moves: [], isStill: true }],
  },
  {
    package: 'queue',
    set: 'pair',
    agreed: null,
    choices: [
      {
        range: '^2.0.0',
        takes: ['apps/web'],
        moves: [
          { ...move, to: '2.1.0', step: 'major' },
          { ...move, project: 'apps/desk', from: '2.0.0', to: '2.1.0', step: 'minor' },
          { ...move, project: 'apps/kit', from: '2.1.0', to: '2.1.0', step: 'none' },
        ],
        isStill: false,
      },
      {
        range: '^1.0.0',
        takes: ['apps/kiosk'],
        moves: [{ ...move, to: '1.2.0', step: 'none' }],
        isStill: true,
      },
    ],
  },
];

function show(chosen: ReadonlyMap<string, string>, pencilled: ReadonlySet<string> = new Set()) {
  const onChoose = vi.fn();
  render(
    <CentraliseTable lines={LINES} chosen={chosen} pencilled={pencilled} onChoose={onChoose} />,
  );
  const rows = screen.getAllByRole('row').slice(1);
  return { onChoose, rows };
}

test('each line says who simply takes it, how many would move, and how far at most', () => {
  const { rows } = show(new Map());
  expect(rows[0]!.textContent).toContain('2nobody');
  expect(rows[1]!.textContent).toContain('2 would move, at most by a major');
  expect(rows[1]!.textContent).toContain('kiosk ^1.0.0: 1.2.0 → 2.1.0 (major)');
  expect(rows[1]!.textContent).toContain('kit ^1.0.0: 2.1.0 stays');
});

test('another range can be chosen, and tells otherwise', () => {
  const { rows, onChoose } = show(new Map([['queue', '^1.0.0']]));
  expect(rows[1]!.textContent).toContain('1 range of others, every copy stays');
  fireEvent.change(screen.getByLabelText('Range for queue'), { target: { value: '^2.0.0' } });
  expect(onChoose).toHaveBeenLastCalledWith('queue', '^2.0.0');
  fireEvent.click(screen.getByLabelText('Move queue in'));
  expect(onChoose).toHaveBeenLastCalledWith('queue', null);
  fireEvent.click(screen.getByLabelText('Move tape in'));
  expect(onChoose).toHaveBeenLastCalledWith('tape', '^1.0.0');
});

test('what is in pencil already cannot be chosen again', () => {
  show(new Map(), new Set(['tape']));
  const box = screen.getByLabelText('Move tape in');
  expect(box).toHaveProperty('disabled', true);
  expect(box).toHaveProperty('checked', true);
});
