import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { readProjectManifest, readRootManifest, readSharedManifest } from './manifest/index.js';
import { readPackageRecord } from './registry/index.js';
import { parseRange, parseVersion, printRange, printVersion } from './version/index.js';

/*
 * Texts that were spoilt, and bytes that never were any: every reader answers, with a value that prints back
 * or with problems that lie within the text.
 */

const ROOT = `format = 1
name = "w"
projects = ["apps/*", "!apps/attic"]
registry = "main"
[platform]
runtime = "20.11.0"
targets = ["linux-x64"]
[policy]
copies = "one"
minimum-age-days = 3
[policy.package.firnstore]
copies = "any"
`;
const SHARED = `format = 1
[shared]
scree-log = "^3.2.0"
[lockstep.moraine]
range = "4.1.0"
packages = ["moraine-core", "moraine-grid"]
[everywhere]
brindle-lint = { range = "^1.0.0", kind = "dev", except = ["a"] }
[pins]
tarn-json = "1.3.1"
[[exceptions]]
project = "season-kiosk"
package = "scree-log"
range = "^2.9.0"
reason = "old image"
owner = "kiosk crew"
until = 2027-03-31
`;
const PROJECT = `name = "pass-office"
version = "0.4.0"
ships = "library"
[needs]
scree-log = "shared"
neve = { range = "^1.0.0 || >=3.0.0-rc.1 <4.0.0", when = ["linux-*"] }
[needs.dev]
fare-rules = "workspace"
[use]
implicit = ["alpenglow-theme"]
`;
const RECORD = JSON.stringify({
  name: 'scree-log',
  releases: [
    {
      version: '3.2.4',
      published: '2026-10-02T08:00:00Z',
      needs: { 'tarn-json': '^1.3.0' },
      optional: { native: { range: '^1.0.0', when: ['linux-*'] } },
      peers: { state: { range: '^2.0.0', optional: false } },
      platform: { runtime: '>=20' },
      targets: ['*'],
      deprecated: null,
      withdrawn: false,
      archive: { path: '/a', integrity: `sha512-${'A'.repeat(86)}==`, bytes: 1 },
    },
  ],
});

function anySpoilt(text: string): fc.Arbitrary<string> {
  const cut = fc
    .tuple(fc.nat(text.length), fc.nat(10), fc.string({ maxLength: 6, unit: 'binary' }))
    .map(([at, length, insert]) => text.slice(0, at) + insert + text.slice(at + length));
  return fc.oneof(
    { weight: 5, arbitrary: cut },
    { weight: 1, arbitrary: fc.string({ unit: 'binary', maxLength: 80 }) },
    {
      weight: 1,
      arbitrary: fc.uint8Array({ maxLength: 120 }).map((bytes) => new TextDecoder().decode(bytes)),
    },
  );
}

describe('spoilt texts and random bytes are answered:', () => {
  test.each([
    ['ledger.toml', ROOT, (text: string) => readRootManifest(text)],
    ['ledger.shared.toml', SHARED, (text: string) => readSharedManifest(text)],
    ['ledger.project.toml', PROJECT, (text: string) => readProjectManifest(text)],
  ] as const)('%s', (_, good, read) => {
    expect(read(good).problems).toEqual([]);
    fc.assert(
      fc.property(anySpoilt(good), (text) => {
        const reading = read(text);
        const [value] = Object.values(reading);
        if (value === null) expect(reading.problems.length).toBeGreaterThan(0);
        for (const { span } of reading.problems) {
          expect(span[0]).toBeGreaterThanOrEqual(0);
          expect(span[1]).toBeGreaterThanOrEqual(span[0]);
          expect(span[1]).toBeLessThanOrEqual(text.length);
        }
      }),
    );
  });

  test('a package document', () => {
    fc.assert(
      fc.property(anySpoilt(RECORD), (text) => {
        let document: unknown;
        try {
          document = JSON.parse(text);
        } catch {
          document = text;
        }
        const reading = readPackageRecord(document);
        if (!reading.ok) expect(reading.problem.message).not.toBe('');
        else expect(reading.record.releases.length).toBeLessThanOrEqual(1);
      }),
    );
  });

  test('a package document of any JSON', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (document) => {
        const reading = readPackageRecord(document);
        expect(reading.ok ? reading.record.releases.length : reading.problem.code).toBe(
          reading.ok ? 0 : 'RECORD_INVALID',
        );
      }),
    );
  });

  test('versions and ranges', () => {
    const anyText = anySpoilt('>=1.2.3-rc.1+b7 <2.0.0 || ^3.x - 4 || ~0.1');
    fc.assert(
      fc.property(anyText, (text) => {
        const version = parseVersion(text);
        if (version.ok) expect(parseVersion(printVersion(version.value)).ok).toBe(true);
        const range = parseRange(text);
        const printed = range.ok ? printRange(range.value) : null;
        if (printed !== null) expect(parseRange(printed).ok).toBe(true);
        if (!range.ok) expect(range.problem.span[1]).toBeLessThanOrEqual(Math.max(1, text.length));
      }),
    );
  });
});
