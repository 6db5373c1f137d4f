import { readFileSync } from 'node:fs';
import Ajv from 'ajv-draft-04';
import addFormats from 'ajv-formats';
import { expect, test } from 'vitest';
import { findingsAsSarif, type Finding } from '@deep-ledger/core';

// The schema of the standard (OASIS, SARIF 2.1.0), as it is published with it.
const schema = JSON.parse(
  readFileSync(new URL('../test/standard/sarif-2.1.0.schema.json', import.meta.url), 'utf8'),
) as object;
const ajv = new Ajv.default({ strict: false, unicodeRegExp: false });
addFormats.default(ajv);
const isSarif = ajv.compile(schema);

const finding = (more: Partial<Finding>): Finding => ({
  id: 'unused apps/web json',
  kind: 'unused',
  severity: 'warning',
  says: "Nothing in web's source refers to json: 2 files of web read",
  project: 'apps/web',
  package: 'json',
  version: null,
  mark: [],
  evidence: [
    {
      kind: 'place',
      says: 'json "^1.0.0"',
      place: { file: 'apps/web/a b.toml', line: 4, column: 1 },
    },
    { kind: 'place', says: 'there', place: { file: 'x.ts', line: 2, column: 3 } },
    { kind: 'chain', says: 'comes in by', chain: ['apps/web', 'json 1.0.0'] },
  ],
  remedies: [{ says: 'remove json from web', edits: [], isDecision: false }],
  ...more,
});

const TERMS = { version: '0.1.0', commit: 'a'.repeat(40), muted: new Map() };

test('a log is valid against the schema of the standard', () => {
  const findings = [
    finding({}),
    finding({ id: 'cycle a b', kind: 'cycle', severity: 'note', evidence: [] }),
  ];
  const log = findingsAsSarif(findings, {
    ...TERMS,
    muted: new Map([['cycle a b', { reason: 'known' }]]),
  });
  expect(isSarif(log), JSON.stringify(isSarif.errors)).toBe(true);
  expect(isSarif({ ...log, version: '2.0.0' })).toBe(false);
});

test('a result has the place, the level, what can be done, and a name that stays', () => {
  const { runs } = findingsAsSarif([finding({ severity: 'error' })], TERMS);
  expect((runs[0] as { results: unknown[] }).results).toEqual([
    {
      ruleId: 'unused',
      ruleIndex: expect.any(Number) as number,
      level: 'error',
      message: {
        text: "Nothing in web's source refers to json: 2 files of web read. What can be done: remove json from web.",
      },
      locations: [
        {
          physicalLocation: {
            artifactLocation: { uri: 'apps/web/a%20b.toml' },
            region: { startLine: 4, startColumn: 1 },
          },
        },
      ],
      relatedLocations: [
        {
          id: 1,
          physicalLocation: {
            artifactLocation: { uri: 'x.ts' },
            region: { startLine: 2, startColumn: 3 },
          },
        },
      ],
      partialFingerprints: { 'finding/v1': 'unused apps/web json' },
    },
  ]);
});

test('what is muted is there, as suppressed', () => {
  const muted = new Map([['unused apps/web json', { reason: 'soon' }]]);
  const { runs } = findingsAsSarif([finding({})], { ...TERMS, muted });
  expect((runs[0] as { results: { suppressions: unknown }[] }).results[0]!.suppressions).toEqual([
    { kind: 'inSource', justification: 'soon' },
  ]);
});
