import { fireEvent, render, screen } from '@testing-library/react';
import { describe, expect, test, vi } from 'vitest';
import type { AlignmentRow } from '../api/client';
import { groupRows } from './alignment-view';
import { AlignmentTable } from './AlignmentTable';
import type { RowAfter } from './AlignmentLine';

// jsdom has no media queries.
vi.stubGlobal('matchMedia', () => ({
  matches: false,
  addEventListener: vi.fn(),
  removeEventListener: vi.fn(),
}));

function row(name: string, more: Partial<AlignmentRow> = {}): AlignmentRow {
  return {
    name,
    summary: '',
    set: null,
    agreed: '^1.0.0',
    pin: null,
    releases: [
      { version: '1.0.0', state: 'plain' },
      { version: '2.0.0', state: 'plain' },
    ],
    newest: '2.0.0',
    marks: [
      { version: '1.0.0', inLine: 2, off: 0 },
      { version: '2.0.0', inLine: 0, off: 3 },
    ],
    reaches: [{ range: '^1.0.0', span: { first: 0, last: 0 }, requirements: 2, isOff: false }],
    usedBy: 5,
    off: 0,
    copies: 1,
    exceptions: 0,
    behind: null,
    cells: [],
    ...more,
  };
}

const ROWS = [
  row('scree-log', { off: 3, copies: 2 }),
  row('firnstore', { exceptions: 1 }),
  row('serac-queue', { agreed: null }),
];

function show(rows: readonly AlignmentRow[], after = new Map<string, RowAfter>()) {
  const onOpen = vi.fn();
  const onSelect = vi.fn();
  const onClear = vi.fn();
  render(
    <AlignmentTable
      groups={groupRows(rows)}
      after={after}
      open={null}
      selected={new Set()}
      onSelect={onSelect}
      isLoading={false}
      isFiltered={rows.length === 0}
      onOpen={onOpen}
      onClear={onClear}
    />,
  );
  return {
    onOpen,
    onSelect,
    onClear,
    lines: [...document.querySelectorAll<HTMLElement>('tr[data-package]')],
  };
}

test('off stands in brackets, nothing off as a dash, what is not agreed as none yet, an exception with a dagger', () => {
  const { lines } = show(ROWS);
  expect(
    lines.map((line) =>
      [...line.querySelectorAll('td')]
        .map((cell) => cell.textContent)
        .filter((_, i) => i !== 0 && i !== 2),
    ),
  ).toEqual([
    ['^1.0.0', '2.0.0 +1', '2.0.0', '5', '(3)', '2'],
    ['^1.0.0†', '2.0.0 +1', '2.0.0', '5', '–', '1'],
    ['none yet', '2.0.0 +1', '2.0.0', '5', '–', '1'],
  ]);
  expect(lines[1]!.querySelector('.level')?.textContent).toBe('^1.0.0');
  expect(lines[0]!.querySelector('.level')).toBeNull();
});

test('the rail draws one mark for those in line and one for those off, and says so', () => {
  show([ROWS[0]!]);
  const rail = screen.getByRole('img');
  expect([...rail.querySelectorAll('text')].map((node) => node.textContent)).toEqual(['2', '3']);
  expect([...rail.querySelectorAll('title')].map((node) => node.textContent)).toEqual([
    '2 at 1.0.0',
    '3 at 2.0.0, out of line',
  ]);
  expect(rail.getAttribute('aria-label')).toMatch(/Out of line 3 at 2\.0\.0/);
});

test('what the draft in hand would make of a row stands beside it in pencil', () => {
  const { lines } = show(
    [ROWS[0]!],
    new Map([['scree-log', { agreed: '^2.0.0', off: 0, copies: 1 }]]),
  );
  expect([...lines[0]!.querySelectorAll('.pencilled')].map((node) => node.textContent)).toEqual([
    '^2.0.0',
    '–',
    '1',
  ]);
});

describe('by keys', () => {
  test('arrows walk the rows, Enter opens', () => {
    const { lines, onOpen } = show(ROWS);
    lines[0]!.focus();
    fireEvent.keyDown(lines[0]!, { key: 'ArrowDown' });
    expect(document.activeElement).toBe(lines[1]);
    fireEvent.keyDown(lines[1]!, { key: 'ArrowUp' });
    fireEvent.keyDown(lines[0]!, { key: 'ArrowUp' });
    expect(document.activeElement).toBe(lines[0]);
    fireEvent.keyDown(lines[0]!, { key: 'Enter' });
    expect(onOpen).toHaveBeenCalledWith('scree-log');
  });

  test('the down arrow leads from the page and from a find field into the rows', () => {
    const { lines } = show(ROWS);
    fireEvent.keyDown(document.body, { key: 'ArrowDown' });
    expect(document.activeElement).toBe(lines[0]);
    const field = document.createElement('input');
    field.type = 'search';
    document.body.append(field);
    field.focus();
    fireEvent.keyDown(field, { key: 'ArrowDown' });
    expect(document.activeElement).toBe(lines[0]);
    field.remove();
  });

  test('each row says which of all it is', () => {
    const { lines } = show(ROWS);
    expect(lines.map((line) => line.getAttribute('aria-rowindex'))).toEqual(['2', '3', '4']);
  });

  test('Space selects, and the box at the head selects all', () => {
    const { lines, onSelect } = show(ROWS);
    fireEvent.keyDown(lines[0]!, { key: ' ' });
    expect(onSelect).toHaveBeenLastCalledWith(['scree-log'], true);
    fireEvent.click(screen.getByLabelText('Select all that are shown'));
    expect(onSelect).toHaveBeenLastCalledWith(['scree-log', 'firnstore', 'serac-queue'], true);
  });
});

test('a filter that leaves nothing can be cleared', () => {
  const { onClear } = show([]);
  fireEvent.click(screen.getByRole('button', { name: 'Show all' }));
  expect(onClear).toHaveBeenCalledOnce();
});
