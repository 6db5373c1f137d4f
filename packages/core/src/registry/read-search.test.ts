import fc from 'fast-check';
import { expect, test } from 'vitest';
import { RegistryError } from './package-record.js';
import { readSearchPage } from './read-search.js';

test('what a search found is read; what names no package is left out', () => {
  const page = readSearchPage('here', {
    total: 9,
    packages: [
      {
        name: '@crew/log',
        summary: 'logs',
        newest: '1.2.0',
        published: '2026-03-04T05:06:07Z',
        licence: 'MIT',
      },
      { name: 'plain', published: 'lately', newest: 7 },
      { name: 'not a name' },
      { summary: 'nameless' },
      null,
      'text',
    ],
  });
  expect(page).toEqual({
    total: 9,
    packages: [
      {
        name: '@crew/log',
        summary: 'logs',
        newest: '1.2.0',
        published: '2026-03-04',
        licence: 'MIT',
      },
      { name: 'plain', summary: '', newest: null, published: null, licence: null },
    ],
  });
});

test('whatever is answered is read or refused, and never more than that', () => {
  fc.assert(
    fc.property(fc.anything(), (document) => {
      try {
        const { total, packages } = readSearchPage('here', document);
        expect(total).toBeGreaterThanOrEqual(packages.length);
      } catch (error) {
        expect(error).toBeInstanceOf(RegistryError);
      }
    }),
  );
});
