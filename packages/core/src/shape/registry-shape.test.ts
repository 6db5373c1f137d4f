import { describe, expect, test } from 'vitest';
import { readPackageRecord } from '../registry/index.js';
import { readShapes } from './read-shapes.js';
import { documentOfForeign, documentPath, type RegistryShape } from './registry-shape.js';

const SHAPE = `[registry.main]
document = "/p/{+name}"
releases = "$.all.*"
version = "$.v"
published = "$$.days[{version}]"
needs = "$.wants"
deprecated = "$.gone"
archive = { url = "$.file.url", integrity = "$.file.sum" }
`;

function shapeOf(text = SHAPE): RegistryShape {
  const { shapes, problems } = readShapes(`format = 1\n${text}`);
  expect(problems).toEqual([]);
  return shapes!.registries.get('main')!;
}

const HEX = 'ab'.repeat(32);
const DOCUMENT = {
  title: '@quay/rope',
  days: { '1.0.0': '2024-03-01', '1.1.0': 'Fri, 01 Mar 2024 10:00:00 GMT' },
  all: {
    a: { v: '1.1.0', wants: { log: '^1.0.0' }, file: { url: '/f/1.1.0.tgz', sum: HEX } },
    b: {
      v: '1.0.0',
      gone: 'old',
      file: { url: '/f/1.0.0.tgz', sum: `sha512-${'A'.repeat(86)}==` },
    },
    c: { v: 'main', file: { url: '/f/main.tgz', sum: HEX } },
    d: { v: '2.0.0', wants: { log: 'newest' }, file: { url: '/f/2.0.0.tgz', sum: 'md5' } },
  },
};

describe('a registry that speaks otherwise', () => {
  test('is read as ours is; a version that is none is left out, what is wrong in a release is its own fault', () => {
    const reading = readPackageRecord(
      documentOfForeign(shapeOf(), '@quay/rope', DOCUMENT, 'semver'),
    );
    expect(reading.ok).toBe(true);
    const { releases } = (reading as { record: { releases: readonly object[] } }).record;
    expect(releases).toMatchObject([
      { text: '1.0.0', published: '2024-03-01T00:00:00.000Z', deprecated: 'old', fault: null },
      {
        text: '1.1.0',
        published: '2024-03-01T10:00:00.000Z',
        needs: [{ name: 'log', range: '^1.0.0' }],
        archive: {
          path: '/f/1.1.0.tgz',
          integrity: 'sha256-q6urq6urq6urq6urq6urq6urq6urq6urq6urq6urq6s=',
        },
        fault: null,
      },
      { text: '2.0.0', fault: { pointer: '/releases/2/needs/log' } },
    ]);
  });

  test('may have versions as keys, and days in no place', () => {
    const shape = shapeOf(SHAPE.replace('version = "$.v"\n', '').replace(/published.*\n/, ''));
    const document = { all: { '1.0.0': { file: { url: '/f', sum: HEX } } } };
    expect(documentOfForeign(shape, 'log', document, 'semver')).toMatchObject({
      releases: [{ version: '1.0.0', published: '1970-01-01T00:00:00.000Z' }],
    });
  });

  test.each([
    ['/p/{+name}', '@quay/rope', '/p/%40quay/rope'],
    ['/p/{name}.json', '@quay/rope', '/p/%40quay%2Frope.json'],
  ])('its documents are at %s', (document, name, path) => {
    expect(documentPath({ ...shapeOf(), document }, name)).toBe(path);
  });

  test.each([
    ['a query that is none', SHAPE.replace('$.v', '$.['), 'QUERY_INVALID'],
    ['no place of documents', SHAPE.replace(/document.*\n/, ''), 'KEY_MISSING'],
    ['a place without the name', SHAPE.replace('/p/{+name}', '/p'), 'QUERY_INVALID'],
    ['no archive', SHAPE.replace(/archive.*\n/, ''), 'KEY_MISSING'],
    ['a key that is not known', `${SHAPE}sums = "$.x"\n`, 'UNKNOWN_KEY'],
  ])('%s is told', (_, text, code) => {
    expect(readShapes(`format = 1\n${text}`).problems.map((one) => one.code)).toContain(code);
  });
});
