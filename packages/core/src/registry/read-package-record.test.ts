import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { loadPackages } from './load-packages.js';
import type { PackageRecord } from './package-record.js';
import { readPackageRecord } from './read-package-record.js';

const RELEASE = {
  version: '3.2.4',
  published: '2026-10-02T08:00:00Z',
  licence: 'MIT',
  terms: { id: 'logs-1', title: 'Terms for logs', url: 'https://logs.example/terms' },
  needs: { 'tarn-json': '^1.3.0' },
  optional: { 'neve-native': { range: '^1.0.0', when: ['linux-*'] } },
  peers: { 'glacis-state': { range: '^2.0.0', optional: false } },
  platform: { runtime: '>=20' },
  targets: ['*'],
  deprecated: null,
  withdrawn: false,
  archive: {
    path: '/archives/scree-log/3.2.4',
    integrity: `sha512-${'A'.repeat(86)}==`,
    bytes: 48211,
  },
};
const DOCUMENT = {
  name: 'scree-log',
  summary: 'structured logging',
  releases: [{ ...RELEASE, version: '10.0.0' }, RELEASE],
};

function recordOf(document: unknown): PackageRecord {
  const reading = readPackageRecord(document);
  if (!reading.ok) throw new Error(reading.problem.message);
  return reading.record;
}

test('a document is read whole, releases ascending', () => {
  const { releases } = recordOf(DOCUMENT);
  expect(releases.map(({ text }) => text)).toEqual(['3.2.4', '10.0.0']);
  expect(releases[0]).toMatchObject({
    licence: 'MIT',
    terms: RELEASE.terms,
    needs: [
      { name: 'neve-native', range: '^1.0.0', kind: 'optional', when: ['linux-*'] },
      { name: 'tarn-json', range: '^1.3.0', kind: 'runtime', when: [] },
    ],
    peers: [{ name: 'glacis-state', range: '^2.0.0', isOptional: false }],
    platform: [['runtime', '>=20']],
    isWithdrawn: false,
  });
});

describe('nonsense is refused with the place in the document:', () => {
  const withRelease = (change: object): unknown => ({
    ...DOCUMENT,
    releases: [{ ...RELEASE, ...change }],
  });
  test.each<[string, unknown, string]>([
    ['no object', 'hello', ''],
    ['no releases', { name: 'a' }, '/releases'],
    ['a name that is none', { ...DOCUMENT, name: 'Scree Log' }, '/name'],
    ['a version that is none', withRelease({ version: '3.2' }), '/releases/0/version'],
    ['a time that is none', withRelease({ published: 'yesterday' }), '/releases/0/published'],
    [
      'a day that is none',
      withRelease({ published: '2026-02-30T00:00:00Z' }),
      '/releases/0/published',
    ],
    ['a flag that is none', withRelease({ withdrawn: 'no' }), '/releases/0/withdrawn'],
    ['a version twice', { ...DOCUMENT, releases: [RELEASE, RELEASE] }, '/releases'],
  ])('%s', (_, document, pointer) => {
    const reading = readPackageRecord(document);
    expect(reading.ok ? null : reading.problem.pointer).toBe(pointer);
  });

  test.each<[string, object, string]>([
    ['a range that is none', { needs: { a: 'latest' } }, '/releases/0/needs/a'],
    ['a name that is none', { needs: { 'a//b~c': '*' } }, '/releases/0/needs/a~1~1b~0c'],
    ['a peer that is none', { peers: { 'x/y': 1 } }, '/releases/0/peers/x~1y'],
    [
      'an integrity that is none',
      { archive: { ...RELEASE.archive, integrity: 'sha512-AAA==' } },
      '/releases/0/archive/integrity',
    ],
    [
      'an address with a blank',
      { archive: { ...RELEASE.archive, path: '/a b' } },
      '/releases/0/archive/path',
    ],
    ['no archive', { archive: undefined }, '/releases/0/archive'],
    ['needed and optional', { needs: { 'neve-native': '1' } }, '/releases/0'],
  ])('of one release, %s is a fault of that release alone', (_, change, pointer) => {
    const { releases } = recordOf({
      ...DOCUMENT,
      releases: [
        { ...RELEASE, ...change },
        { ...RELEASE, version: '10.0.0' },
      ],
    });
    expect(releases.map(({ text, fault }) => [text, fault?.pointer ?? null])).toEqual([
      ['3.2.4', pointer],
      ['10.0.0', null],
    ]);
    expect(releases[0]!.needs).toEqual([]);
  });

  test('any JSON at all gives a record or a problem', () => {
    fc.assert(
      fc.property(
        fc.jsonValue(),
        fc.constantFrom('needs', 'archive', 'targets', 'platform', 'peers', 'version'),
        (value, key) => {
          expect(typeof readPackageRecord(withRelease({ [key]: value })).ok).toBe('boolean');
          expect(readPackageRecord(value).ok).toBe(false);
        },
      ),
    );
  });
});

test('loading follows every name that a release needs, and asks for each once', async () => {
  const asked: string[][] = [];
  const needing = (name: string, needs: Readonly<Record<string, string>>): PackageRecord =>
    recordOf({ name, releases: [{ ...RELEASE, needs, optional: {}, peers: {} }] });
  const withPeers = recordOf({
    name: 'a',
    releases: [
      {
        ...RELEASE,
        needs: { b: '*' },
        optional: {},
        peers: { c: { range: '*' }, unloaded: { range: '*', optional: true } },
      },
    ],
  });
  const registry = new Map([
    ['a', withPeers],
    ['b', needing('b', { c: '*', a: '*', gone: '*' })],
    ['c', needing('c', {})],
  ]);
  const records = await loadPackages(['a'], {
    packages: async (names) => {
      asked.push([...names]);
      return new Map(names.map((name) => [name, registry.get(name) ?? null]));
    },
  });
  expect(asked).toEqual([['a'], ['b', 'c'], ['gone']]);
  expect([...records.keys()]).toEqual(['a', 'b', 'c', 'gone']);
  expect(records.get('gone')).toBeNull();
});
