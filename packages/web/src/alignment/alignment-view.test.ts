import { expect, test } from 'vitest';
import type { AlignmentRow } from '../api/client';
import { groupRows, alignmentView, viewOn, viewRows } from './alignment-view';
import { railWords } from './rail-words';
import { alignmentCsv } from './alignment-csv';

function row(name: string, more: Partial<AlignmentRow> = {}): AlignmentRow {
  return {
    name,
    summary: '',
    set: null,
    agreed: '^1.0.0',
    pin: null,
    releases: [],
    newest: null,
    marks: [],
    reaches: [],
    usedBy: 2,
    off: 0,
    copies: 1,
    exceptions: 0,
    behind: null,
    cells: [],
    ...more,
  };
}

const ROWS = [
  row('scree-log', { off: 2, summary: 'structured logging' }),
  row('moraine-core', { set: 'moraine', off: 3, agreed: '4.1.0' }),
  row('moraine-grid', { set: 'moraine', agreed: '4.1.0' }),
  row('firnstore'),
];
const names = (rows: readonly AlignmentRow[]): readonly string[] => rows.map(({ name }) => name);

const PROJECTS = [
  { folder: 'apps/web', name: 'web' },
  { folder: 'apps/kit', name: 'kit' },
];

function view(search: string): readonly string[] {
  return names(viewRows(ROWS, PROJECTS, alignmentView(new URLSearchParams(search))));
}

test('rows are left by standing, by every word, by set, by project and by how widely they are required', () => {
  expect(view('')).toHaveLength(4);
  expect(view('show=out')).toEqual(['scree-log', 'moraine-core']);
  expect(view('show=level')).toEqual(['moraine-grid', 'firnstore']);
  expect(view('q=LOGGING scree')).toEqual(['scree-log']);
  expect(view('q=moraine')).toEqual(['moraine-core', 'moraine-grid']);
  expect(view('q=scree moraine')).toEqual([]);
  expect(view('set=moraine')).toEqual(['moraine-core', 'moraine-grid']);
  expect(view('show=nonsense')).toHaveLength(4);
  const cell = { kind: 'runtime', copy: null, standing: 'takes', isOff: false } as const;
  const rows = [row('here', { cells: [{ ...cell, project: 1 }] }), row('there')];
  const of = (search: string): readonly string[] =>
    names(viewRows(rows, PROJECTS, alignmentView(new URLSearchParams(search))));
  expect(of('project=apps/kit')).toEqual(['here']);
  expect(of('project=apps/web')).toEqual([]);
  expect(of('')).toEqual(['here', 'there']);
});

test('each order puts its figure first, a higher step before any number of releases', () => {
  const rows = [
    row('b', { copies: 1, usedBy: 9, behind: { step: 'minor', newest: '1.9.0', releases: 40 } }),
    row('c', { copies: 3, usedBy: 2, behind: { step: 'major', newest: '2.0.0', releases: 1 } }),
    row('a', { copies: 2, usedBy: 3, set: 'grid' }),
  ];
  const order = (sort: string): string =>
    names(viewRows(rows, PROJECTS, alignmentView(new URLSearchParams({ sort })))).join('');
  expect(['off', 'copies', 'behind', 'use', 'name', 'set'].map(order)).toEqual([
    'bca',
    'cab',
    'cba',
    'bac',
    'abc',
    'abc',
  ]);
  expect(groupRows(rows, 'name').map(({ title }) => title)).toEqual(['']);
});

test('sets stand together, the group with the most out of line first', () => {
  expect(groupRows(ROWS).map(({ title, rows }) => [title, names(rows)])).toEqual([
    ['moraine: these move together at 4.1.0', ['moraine-core', 'moraine-grid']],
    ['on their own', ['scree-log']],
    ['on their own, in line', ['firnstore']],
  ]);
  expect(groupRows([])).toEqual([]);
});

test('the rail is told in words', () => {
  const told = railWords(
    row('scree-log', {
      marks: [
        { version: '1.0.0', inLine: 3, off: 0 },
        { version: '2.0.0', inLine: 0, off: 1 },
      ],
      reaches: [{ range: '^1.0.0', span: { first: 0, last: 0 }, requirements: 3, isOff: false }],
      newest: '2.0.0',
      pin: '1.0.0',
    }),
  );
  expect(told).toBe(
    'scree-log: in line 3 at 1.0.0. Out of line 1 at 2.0.0. 1 range: ^1.0.0. Pinned to 1.0.0. Newest 2.0.0.',
  );
});

test('rows are saved as CSV, with what needs quoting quoted', () => {
  const reaches = ['=1.0.0', '^2.0.0'].map((range) => ({
    range,
    span: null,
    requirements: 1,
    isOff: false,
  }));
  const [head, line, end] = alignmentCsv([row('scree-log', { agreed: '=1.0.0', reaches })]).split(
    '\r\n',
  );
  expect(head).toBe(
    'package,set,agreed,pin,newest,used by,off,copies,versions in use,ranges,behind',
  );
  expect(line).toBe(`scree-log,,'=1.0.0,,,2,0,1,,"'=1.0.0, ^2.0.0",`);
  expect(end).toBe('');
});

test('until what is asked for is there, what was there is shown as what it is', () => {
  const asked = alignmentView(new URLSearchParams('scope=all&view=grid&project=apps/web&q=log'));
  expect(viewOn(undefined, asked)).toEqual(asked);
  expect(viewOn({ scope: 'shared', hasCells: false }, asked)).toEqual({
    ...asked,
    scope: 'shared',
    view: 'rails',
    project: '',
  });
  expect(viewOn({ scope: 'direct', hasCells: true }, asked)).toEqual({ ...asked, scope: 'direct' });
  expect(viewOn({ scope: 'all', hasCells: true }, asked)).toEqual(asked);
});
