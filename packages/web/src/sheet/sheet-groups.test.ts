import { expect, test } from 'vitest';
import type { SheetRow } from '../api/client';
import { filterRows, groupRows } from './sheet-groups';
import { railWords } from './rail-words';
import { sheetCsv } from './sheet-csv';

function row(name: string, more: Partial<SheetRow> = {}): SheetRow {
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
    ...more,
  };
}

const ROWS = [
  row('scree-log', { off: 2, summary: 'structured logging' }),
  row('moraine-core', { set: 'moraine', off: 3, agreed: '4.1.0' }),
  row('moraine-grid', { set: 'moraine', agreed: '4.1.0' }),
  row('firnstore'),
];
const names = (rows: readonly SheetRow[]): readonly string[] => rows.map(({ name }) => name);

test('rows are left by standing and by every word', () => {
  expect(names(filterRows(ROWS, 'all', ''))).toHaveLength(4);
  expect(names(filterRows(ROWS, 'out', ''))).toEqual(['scree-log', 'moraine-core']);
  expect(names(filterRows(ROWS, 'level', ''))).toEqual(['moraine-grid', 'firnstore']);
  expect(names(filterRows(ROWS, 'all', 'LOGGING scree'))).toEqual(['scree-log']);
  expect(names(filterRows(ROWS, 'all', 'moraine'))).toEqual(['moraine-core', 'moraine-grid']);
  expect(filterRows(ROWS, 'all', 'scree moraine')).toEqual([]);
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
  const [head, line, end] = sheetCsv([row('scree-log', { agreed: '=1.0.0', reaches })]).split(
    '\r\n',
  );
  expect(head).toBe('package,set,agreed,pin,newest,used by,off,copies,versions in use,ranges');
  expect(line).toBe(`scree-log,,'=1.0.0,,,2,0,1,,"'=1.0.0, ^2.0.0"`);
  expect(end).toBe('');
});
