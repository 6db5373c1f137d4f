import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { readWorkspace } from '../workspace/index.js';
import { plain, readApart } from '../workspace/read-apart.arbitrary.js';
import { SPELLINGS } from '../workspace/spellings.arbitrary.js';
import { anyRichWorld, richFiles } from './rich-world.arbitrary.js';

describe.each(SPELLINGS)('in %s', (_, spell) => {
  test('what was read ahead by another thread leads to the same workspace', () => {
    fc.assert(
      fc.property(anyRichWorld, anyRichWorld, (one, other) => {
        const [files, later] = [spell(richFiles(one)), spell(richFiles(other))];
        const before = readApart(files);
        expect(plain(before)).toEqual(plain(readWorkspace(files)));
        expect(plain(readApart(later, before))).toEqual(plain(readWorkspace(later)));
      }),
    );
  });
});
