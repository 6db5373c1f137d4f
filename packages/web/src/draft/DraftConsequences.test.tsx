import { cleanup, render, screen } from '@testing-library/react';
import { describe, expect, test } from 'vitest';
import type { Draft } from '../api/client';
import { DraftConsequences } from './DraftConsequences';

type Evaluation = Draft['evaluation'];

const EDIT: Draft['edits'][number] = {
  edit: { kind: 'set-shared', package: 'scree-log', range: '^3.2.0' },
  words: { subject: 'scree-log', verb: 'agreed', from: '^2.9.0', to: '^3.2.0', detail: null },
  problem: null,
  leftOut: null,
  isOut: false,
  endsAnswer: false,
};
const CONSEQUENCES: NonNullable<Evaluation['consequences']> = {
  findings: {
    cleared: [{ id: 'out-of-line web log', says: 'web asks for log 1.0.0; ^1.0.0 is agreed' }],
    raised: [],
    left: 4,
  },
  adopted: null,
  outOfLineBefore: 11,
  outOfLineAfter: 10,
  copiesBefore: 73,
  copiesAfter: 70,
  change: {
    entered: [{ name: 'scree-log', version: '3.2.4' }],
    left: [
      { name: 'scree-log', version: '2.4.1' },
      { name: 'scree-log', version: '3.0.0' },
    ],
    moved: [{ name: 'tarn-json', from: '1.2.9', to: '1.3.0', step: 'minor', direction: 'up' }],
    requirements: [],
    reanswered: 0,
    because: [
      { name: 'scree-log', from: null, to: '3.2.4', causes: ['web requires scree-log ^3.2.0'] },
      { name: 'scree-log', from: '2.4.1', to: null, causes: [] },
      { name: 'scree-log', from: '3.0.0', to: null, causes: [] },
      { name: 'tarn-json', from: '1.2.9', to: '1.3.0', causes: ['scree-log 3.2.4 came'] },
    ],
  },
  manifests: 7,
  projects: ['apps/web'],
  levelled: ['scree-log'],
  unlevelled: [],
  peersMet: [],
  peersBroken: [],
  refusedLicences: [],
  disputed: [],
  ownRanges: [],
  openTerms: [],
  otherRegistries: [],
  refusedLicencesBefore: 0,
  rows: [],
  sum: '300576a0ffff',
  lockBefore: 'consistent',
};

function show(evaluation: Partial<Evaluation>, edits = [EDIT]) {
  const whole: Evaluation = {
    kind: 'answered',
    consequences: null,
    files: [],
    explanations: [],
    problems: [],
    ...evaluation,
  };
  return render(<DraftConsequences draft={{ evaluation: whole, edits } as Draft} />);
}

describe('an answered draft', () => {
  test('that touches a copy in dispute names both integrities', () => {
    const dispute = {
      name: 'tarn-json',
      version: '1.3.0',
      locked: 'sha512-a',
      offered: 'sha512-b',
    };
    const { container } = show({ consequences: { ...CONSEQUENCES, disputed: [dispute] } });
    expect(screen.getByText('Lockfile and registry disagree')).toBeTruthy();
    expect(container.textContent).toContain(
      'tarn-json 1.3.0 has the integrity sha512-a; the registry says sha512-b.',
    );
    expect(container.textContent).toContain('cannot be posted while it touches that copy');
    cleanup();
    show({ consequences: CONSEQUENCES });
    expect(screen.queryByText('Lockfile and registry disagree')).toBeNull();
  });

  test('that takes a package from another registry says so in red', () => {
    const moves = [{ name: '@lifts/core', from: 'house', to: 'main' }];
    show({ consequences: { ...CONSEQUENCES, otherRegistries: moves } });
    expect(screen.getByRole('alert').textContent).toContain(
      'From another registry@lifts/core comes from main; the lockfile has it from house.',
    );
  });

  test('gives the sum, and what leaves, enters and moves', () => {
    show({ consequences: CONSEQUENCES });
    expect(screen.getAllByRole('definition').map((node) => node.textContent)).toEqual([
      '11 → 10',
      '73 → 70',
      '5 → 4',
      '7',
      '1',
      '3005 76a0',
    ]);
    expect(screen.getByText('1 finding cleared')).toBeTruthy();
    expect(screen.queryByText(/raised/)).toBeNull();
    expect(screen.getByText('2 leave the lockfile')).toBeTruthy();
    expect(screen.getByText('1 enters it')).toBeTruthy();
    expect(screen.getByText('tarn-json 1.2.9 → 1.3.0')).toBeTruthy();
    expect(screen.getByText('scree-log 3.2.4 came')).toBeTruthy();
    expect(screen.getByText('Level again: scree-log')).toBeTruthy();
    expect(screen.queryByText(/The lockfile is/)).toBeNull();
  });

  test('says when nothing in the lockfile moves', () => {
    show({
      consequences: {
        ...CONSEQUENCES,
        change: { ...CONSEQUENCES.change, because: [], reanswered: 2 },
      },
    });
    expect(screen.getByText(/^The lockfile keeps all its copies; 2 requirements/)).toBeTruthy();
  });

  test('warns that a stale lockfile adds to the change, and leaves unknown what was unknown', () => {
    show({ consequences: { ...CONSEQUENCES, lockBefore: 'stale', copiesBefore: null } });
    expect(screen.getByText(/The lockfile is stale now/)).toBeTruthy();
    expect(screen.getByText('? → 70')).toBeTruthy();
  });

  test('without edits shows nothing', () => {
    expect(show({ consequences: CONSEQUENCES }, []).container.textContent).toBe('');
  });
});

test('an unanswered draft explains itself and says that it stays', () => {
  show({
    kind: 'unanswered',
    explanations: [['a requires b.', 'b has no release.'], ['c requires d.']],
  });
  expect(screen.getByRole('alert').textContent).toMatch(
    /No answer.*The draft stays.*a requires b\.b has no release\.c requires d\./,
  );
});

test('a draft on files that cannot be read gives the places', () => {
  const place = { file: 'apps/x/ledger.project.toml', line: 3, column: 7 };
  show({
    kind: 'unreadable',
    problems: [{ code: 'SYNTAX', message: 'This is not TOML.', place, isBlocking: true }],
  });
  expect(screen.getByRole('alert').textContent).toContain('apps/x/ledger.project.toml:3:7');
});

test('a draft with edits that no longer apply says what to do', () => {
  show({ kind: 'inapplicable' });
  expect(screen.getByRole('alert').textContent).toMatch(/Take out those marked above/);
});
