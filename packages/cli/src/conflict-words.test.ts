import { expect, test } from 'vitest';
import { conflictWords } from './conflict-words.js';

test('the values of a conflict stand in one column, those of several lines too', () => {
  const block = (reason: string): string => `[[muted]]\nfinding = "x"\nreason = "${reason}"`;
  const conflict = { file: 'ledger.shared.toml', path: ['muted', 'x'], base: null };
  expect(conflictWords({ ...conflict, ours: block('one'), theirs: block('two') })).toBe(
    [
      'ledger.shared.toml: muted / x',
      '  base   (not there)',
      '  ours   [[muted]]',
      '         finding = "x"',
      '         reason = "one"',
      '  theirs [[muted]]',
      '         finding = "x"',
      '         reason = "two"',
    ].join('\n'),
  );
});
