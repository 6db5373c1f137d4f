import { render, screen } from '@testing-library/react';
import { expect, test } from 'vitest';
import { DiffFile } from './DiffFile';

test('each line stands with its numbers and its sign, so that it can be read without colour', () => {
  render(
    <DiffFile
      file={{
        path: 'apps/pass-office/ledger.project.toml',
        isNew: false,
        added: 1,
        removed: 1,
        hunks: [
          {
            lines: [
              { mark: 'same', text: '[needs]', before: 6, after: 6 },
              { mark: 'removed', text: 'scree-log = "^3.1.0"', before: 7, after: null },
              { mark: 'added', text: 'scree-log = "shared"', before: null, after: 7 },
              { mark: 'same', text: '', before: 8, after: 8 },
            ],
          },
        ],
      }}
    />,
  );
  const lines = screen
    .getAllByRole('row')
    .map((line) => [...line.children].map((cell) => cell.textContent));
  expect(lines).toEqual([
    ['6', '6', ' ', '[needs]'],
    ['7', '', '-', 'scree-log = "^3.1.0"'],
    ['', '7', '+', 'scree-log = "shared"'],
    ['8', '8', ' ', ' '],
  ]);
  expect(screen.getByText('+1 −1')).toBeTruthy();
});

test('a new file says that it is new', () => {
  render(
    <DiffFile
      file={{ path: 'ledger.shared.toml', isNew: true, added: 0, removed: 0, hunks: [] }}
    />,
  );
  expect(screen.getByText('new')).toBeTruthy();
});
