import { readShapes } from '@deep-ledger/core';
import { expect, test } from 'vitest';
import type { BringIn } from '../api/client';
import {
  figuresOfKinds,
  formOfProposal,
  kindOfFile,
  registryLines,
  shapesText,
  type KindFigures,
} from './bring-in-form';

const { form: PLAIN } = kindOfFile('a/app.yaml', 'x');
const PROPOSAL: BringIn = {
  commit: 'c',
  name: 'ferries',
  files: 3,
  tooLarge: 0,
  notText: 0,
  isCut: false,
  manifests: ['*/app.yaml', '*/berth.xml'].map((files) => ({
    form: { ...(PLAIN as BringIn['manifests'][number]['form']), files: [files] },
    files: 2,
    first: 'a/app.yaml',
    evidence: [{ good: 3, values: 4, why: 'in 2 of 2 files' }],
    isSure: true,
  })),
  shared: { form: { file: 'agreed.json', syntax: 'json', at: '$.agreed' }, values: 2 },
  adopt: null,
  unread: [],
  unreadCount: 0,
  prepared: null,
};

test('the text says what is not skipped, and can be read', () => {
  const form = formOfProposal(PROPOSAL);
  const [first, second] = form.kinds;
  const { shapes, problems } = readShapes(
    shapesText({ ...form, kinds: [{ ...first!, isSkipped: true }, second!] }),
  );
  expect(problems).toEqual([]);
  expect(shapes?.manifests.map(({ files }) => files)).toEqual([['*/berth.xml']]);
  expect(shapes?.shared?.file).toBe('agreed.json');
  expect(readShapes(shapesText({ ...form, shared: null })).shapes?.shared).toBeNull();
});

test('figures go to their kinds where one is skipped and another cannot be used', () => {
  const form = formOfProposal(PROPOSAL);
  const bad = { ...kindOfFile('x.json', 'bad'), form: { ...PLAIN, files: [] } };
  const kinds = [{ ...form.kinds[0]!, isSkipped: true }, bad, form.kinds[1]!];
  const figures = { patterns: ['*/berth.xml'], files: 2 } as KindFigures;
  const read = { shapes: [figures] } as Parameters<typeof figuresOfKinds>[1];
  expect(figuresOfKinds({ ...form, kinds }, read)).toEqual([null, null, figures]);
});

test('patterns are parted by blanks', () => {
  const form = formOfProposal(PROPOSAL);
  const registries = [{ ...form.registries[0]!, name: ' house ', patterns: ' @house/*  berth-* ' }];
  expect(registryLines({ ...form, registries })).toEqual([
    { name: 'house', patterns: ['@house/*', 'berth-*'], versions: 'semver' },
  ]);
});
