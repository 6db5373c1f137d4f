import { expect, test } from 'vitest';
import type { Edit } from '../edit/index.js';
import { filesOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { orderOfEdits } from './order-of-edits.js';

const SHARED = 'format = 1\n[lockstep.ice]\nrange = "1.0.0"\npackages = ["floe", "firn"]\n';
const workspace = workspaceOf(filesOf({ a: {} }, { 'ledger.shared.toml': SHARED }));

const add = (name: string): Edit => ({
  kind: 'add-requirement',
  package: name,
  range: '*',
  as: 'runtime',
  projects: ['a'],
});
const remove = (name: string): Edit => ({
  kind: 'remove-requirement',
  package: name,
  projects: ['a'],
});
const share = (name: string, range: string): Edit => ({ kind: 'set-shared', package: name, range });

const ordered = (edits: readonly Edit[]): readonly Edit[] =>
  orderOfEdits(workspace, edits).map((i) => edits[i]!);

test('edits of different packages are made by name, those that add first', () => {
  const edits = [remove('b'), remove('a'), add('d'), add('c')];
  const expected = [add('c'), add('d'), remove('a'), remove('b')];
  expect(ordered(edits)).toEqual(expected);
  expect(ordered([...edits].reverse())).toEqual(expected);
});

test('edits of one package, and of members of one set, stay as they are given', () => {
  const ofPackage = [share('b', '^2.0.0'), share('b', '^1.0.0'), add('b')];
  const ofSet = [share('firn', '2.0.0'), share('floe', '3.0.0')];
  expect(ordered([...ofSet, ...ofPackage])).toEqual([...ofPackage, ...ofSet]);
});

test('a move of two packages keeps the edits of both together', () => {
  const moves = [
    { package: 'a', from: '1.0.0', to: '2.0.0' },
    { package: 'z', from: '1.0.0', to: '2.0.0' },
  ];
  const edits: readonly Edit[] = [
    remove('z'),
    share('b', '*'),
    { kind: 'upgrade', moves },
    remove('a'),
  ];
  expect(orderOfEdits(workspace, edits)).toEqual([0, 2, 3, 1]);
});

test('nothing passes an edit that is about more than packages', () => {
  const edits: readonly Edit[] = [remove('b'), remove('a'), { kind: 'bring-up' }, add('a')];
  expect(orderOfEdits(workspace, edits)).toEqual([1, 0, 2, 3]);
});
