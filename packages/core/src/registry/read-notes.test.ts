import { expect, test } from 'vitest';
import { readNotes } from './read-notes.js';

test.each<[string, unknown, ReturnType<typeof readNotes>]>([
  ['notes', { releases: [{ version: '1.0.0', notes: '# one' }] }, { text: '# one', isCut: false }],
  ['another release’s', { releases: [{ version: '2.0.0', notes: '# two' }] }, null],
  ['blanks', { releases: [{ version: '1.0.0', notes: ' \n' }] }, null],
  ['what is no text', { releases: [{ version: '1.0.0', notes: ['x'] }] }, null],
  ['none', { releases: [null, 7, { version: '1.0.0' }] }, null],
  ['no document', null, null],
])('of %s', (_, document, notes) => {
  expect(readNotes(document, '1.0.0')).toEqual(notes);
});

test('endless notes are cut', () => {
  const document = { releases: [{ version: '1.0.0', notes: 'x'.repeat(1_000_000) }] };
  expect(readNotes(document, '1.0.0')).toMatchObject({ isCut: true });
  expect(readNotes(document, '1.0.0')!.text.length).toBe(20_000);
});
