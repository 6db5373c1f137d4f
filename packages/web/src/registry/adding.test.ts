import { expect, test } from 'vitest';
import { addingEdits, mannersFor } from './adding';

const FREE = { name: 'log', agreed: null };
const AGREED = { name: 'log', agreed: '^1.0.0' };

test('several projects can agree, and what is agreed on is taken', () => {
  const values = (agreed: typeof FREE | typeof AGREED, projects: number) =>
    mannersFor(agreed, '1.2.0', projects).map(({ value }) => value);
  expect(values(FREE, 1)).toEqual(['caret', 'tilde', 'exact']);
  expect(values(FREE, 2)).toEqual(['shared', 'caret', 'tilde', 'exact']);
  expect(values(AGREED, 1)).toEqual(['shared', 'caret', 'tilde', 'exact']);
});

test('adding is one edit, and one more where a version is newly shared', () => {
  const adding = { version: '1.2.0', kind: 'dev', projects: ['a', 'b'] } as const;
  const add = { kind: 'add-requirement', package: 'log', as: 'dev', projects: ['a', 'b'] };
  expect(addingEdits(FREE, { ...adding, manner: 'shared' })).toEqual([
    { kind: 'set-shared', package: 'log', range: '^1.2.0' },
    { ...add, range: 'shared' },
  ]);
  expect(addingEdits(AGREED, { ...adding, manner: 'shared' })).toEqual([
    { ...add, range: 'shared' },
  ]);
  expect(addingEdits(FREE, { ...adding, manner: 'tilde' })).toEqual([{ ...add, range: '~1.2.0' }]);
  expect(addingEdits(FREE, { ...adding, manner: 'exact', projects: [] })).toEqual([]);
});
