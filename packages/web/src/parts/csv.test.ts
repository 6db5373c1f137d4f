import { expect, test } from 'vitest';
import { csvText } from './csv';

test('fields are quoted where they have to be', () => {
  expect(csvText([['a', 'b,c', 'say "x"', 'two\nlines']])).toBe(
    'a,"b,c","say ""x""","two\nlines"\r\n',
  );
});

test.each(['=1+1', '+1', '-1', '@x', '\t=1+1', '\r=1', '\n=1'])(
  'what a spreadsheet would reckon (%j) stays text',
  (text) => {
    expect(csvText([[text]]).replaceAll('"', '')).toBe(`'${text}\r\n`);
  },
);
