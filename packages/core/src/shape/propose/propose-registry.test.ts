import { expect, test } from 'vitest';
import { recordOfDocument } from '../../registry/index.js';
import { printShapes } from '../print-shapes.js';
import { readShapes } from '../read-shapes.js';
import { documentOfForeign } from '../registry-shape.js';
import type { RegistryForm } from '../shapes-form.js';
import { proposeRegistry } from './propose-registry.js';

const SUM = 'ab'.repeat(32);

/** The releases that are read by what is proposed for a document. */
function readBy(form: RegistryForm, document: unknown): readonly string[] {
  const text = printShapes({ manifests: [], shared: null, adopt: [], registries: [form] });
  const { shapes, problems } = readShapes(text);
  expect(problems).toEqual([]);
  const shape = shapes!.registries.get('house')!;
  const record = recordOfDocument(
    'here',
    'log',
    documentOfForeign(shape, 'log', document, 'semver'),
    'semver',
  );
  return record.releases.map(
    ({ text: version, needs, published }) =>
      `${version} ${published.slice(0, 10)} ${needs.map(({ name, range }) => `${name} ${range}`).join()}`,
  );
}

test('releases in a list, with their day, what they need and their archive', () => {
  const document = {
    is: 'log',
    about: 'Writes lines',
    all: [
      { v: '1.0.0', day: '2025-03-01', wants: {}, file: { at: '/a/log-1.0.0.tgz', sum: SUM } },
      {
        v: '1.1.0',
        day: '2025-04-01',
        wants: { rope: '^2.0.0' },
        licence: 'MIT',
        file: { at: '/a/log-1.1.0.tgz', sum: SUM },
      },
    ],
  };
  const form = proposeRegistry('house', document, '/p/{+name}')!;
  expect(form).toEqual({
    registry: 'house',
    document: '/p/{+name}',
    releases: '$.all[*]',
    version: '$.v',
    published: '$.day',
    licence: '$.licence',
    needs: '$.wants',
    optional: '',
    deprecated: '',
    url: '$.file.at',
    integrity: '$.file.sum',
  });
  expect(readBy(form, document)).toEqual(['1.0.0 2025-03-01 ', '1.1.0 2025-04-01 rope ^2.0.0']);
});

test('releases under their versions, with a table of days beside them', () => {
  const document = {
    goods: { '1.0.0': { url: 'x/log.tgz', sha: SUM, needs: { rope: '*' } } },
    days: { '1.0.0': '2025-05-01T10:00:00Z' },
  };
  const form = proposeRegistry('house', document, '/p/{name}')!;
  expect(form).toMatchObject({
    releases: '$.goods[*]',
    version: '',
    published: '$$.days[{version}]',
  });
  expect(readBy(form, document)).toEqual(['1.0.0 2025-05-01 rope *']);
});

test.each([[null], [{ error: 'no such thing' }], [[1, 2]], [{ all: [{ v: 'one' }] }]])(
  'of %j nothing is proposed',
  (document) => {
    expect(proposeRegistry('house', document, '/p/{name}')).toBeNull();
  },
);
