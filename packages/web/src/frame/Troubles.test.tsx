import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import type { ReactElement } from 'react';
import { MemoryRouter } from 'react-router';
import { describe, expect, test } from 'vitest';
import type { PlacedProblem, WorkspaceState } from '../api/client';
import { Stamp } from './Stamp';
import { Troubles } from './Troubles';

function renderIn(element: ReactElement) {
  return render(<MemoryRouter>{element}</MemoryRouter>);
}

function problem(message: string, isBlocking: boolean): PlacedProblem {
  return { code: 'X', message, isBlocking, place: { file: 'ledger.toml', line: 3, column: 4 } };
}

function troubles(
  more: Partial<Pick<WorkspaceState, 'problems' | 'registryState' | 'repositoryTrouble'>>,
) {
  const registryState = { state: 'up', messages: [], unknown: [] } as const;
  return renderIn(
    <Troubles
      state={
        {
          problems: [],
          repositoryTrouble: null,
          registryState,
          ...more,
        } as unknown as WorkspaceState
      }
    />,
  );
}

describe('what stands against the workspace', () => {
  test('is nothing at all when all is well', () => {
    expect(troubles({}).container.textContent).toBe('');
  });

  test('says that the repository does not answer, and what that leaves', () => {
    troubles({ repositoryTrouble: 'git cannot read /x.' });
    expect(screen.getByRole('alert').textContent).toMatch(
      /^The repository does not answergit cannot read \/x\..*nothing can be posted/,
    );
  });

  test('tells mistakes, which stop posts, from remarks, which do not', () => {
    troubles({
      problems: [
        problem('Unknown key.', true),
        problem('No match.', false),
        problem('No range.', true),
      ],
    });
    const [mistakes, remarks] = screen.getAllByRole('alert').map((node) => node.textContent);
    expect(mistakes).toMatch(
      /^2 problems in the files; nothing can be posted until they are repaired.*ledger\.toml:3:4.*Unknown key\..*No range\./,
    );
    expect(remarks).toMatch(/^1 remark on the files.*No match\./);
  });

  test('tells a registry that is down but known from one that leaves a gap', () => {
    troubles({
      registryState: { state: 'down', messages: ['It cannot be reached.'], unknown: [] },
    });
    expect(screen.getByRole('alert').textContent).toBe(
      'The registry does not answerIt cannot be reached.What follows rests on what it said before.',
    );
    cleanup();
    troubles({
      registryState: { state: 'nonsense', messages: ['It is not JSON.'], unknown: ['a', 'b'] },
    });
    expect(screen.getByRole('alert').textContent).toMatch(
      /answers nonsense.*Nothing is known of a, b, so drafts cannot be evaluated\./,
    );
  });
});

describe('the stamp', () => {
  const place = { file: 'apps/x/ledger.project.toml', line: 9, column: 1 };

  test('of a consistent lockfile gives sum and copies, and opens nothing', () => {
    renderIn(
      <Stamp lock={{ state: 'consistent', sum: '7c1e90abcdef', copies: 148, reasons: [] }} />,
    );
    expect(screen.getByText('lockfile consistent')).toBeTruthy();
    expect(screen.getByText('sum 7c1e 90ab · 148 copies')).toBeTruthy();
    expect(screen.queryByRole('button')).toBeNull();
  });

  test('of a stale one opens the list of reasons with their places', () => {
    const reasons = [{ code: 'REQUIREMENT_ADDED', message: 'x requires y.', place }];
    renderIn(<Stamp lock={{ state: 'stale', sum: '7c1e90ab', copies: 1, reasons }} />);
    fireEvent.click(screen.getByRole('button', { name: 'lockfile stale: 1 reason' }));
    expect(screen.getByRole('dialog').textContent).toMatch(
      /The lockfile is stale.*apps\/x\/ledger\.project\.toml:9:1.*x requires y\./,
    );
  });

  test('of a broken one claims no copies', () => {
    renderIn(
      <Stamp
        lock={{
          state: 'broken',
          sum: null,
          copies: null,
          reasons: [{ code: 'LOCK_UNREADABLE', message: 'm', place }],
        }}
      />,
    );
    expect(screen.getByText('no copies known')).toBeTruthy();
  });
});
