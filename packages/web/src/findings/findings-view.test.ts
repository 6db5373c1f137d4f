import { expect, test } from 'vitest';
import type { Finding, Findings } from '../api/client';
import { findingsCsv, shownCauses, viewOf } from './findings-view';

const finding = (id: string, more: Partial<Finding> = {}): Finding => ({
  id,
  kind: 'unused',
  severity: 'warning',
  says: `about ${id}`,
  project: 'apps/web',
  package: 'json',
  version: null,
  evidence: [],
  remedies: [],
  muted: null,
  since: {
    commit: 'c1',
    subject: 's',
    author: 'web crew',
    at: '2025-03-01T00:00:00Z',
    isEarlier: false,
  },
  ...more,
});

const FINDINGS: Findings = {
  commit: 'c2',
  isHistoryKnown: true,
  findings: [
    finding('a'),
    finding('b', { kind: 'cycle', severity: 'error', project: null }),
    finding('c', { muted: { reason: 'r', owner: 'o', until: '2025-12-31' } }),
    finding('d', { since: null }),
  ],
  causes: [
    { key: 'one', says: 'one', findings: ['a', 'b'] },
    { key: 'two', says: 'two', findings: ['c'] },
    { key: 'three', says: 'three', findings: ['d'] },
  ],
  remedies: [],
  scanned: null,
};

const shown = (query: string): string[] =>
  shownCauses(FINDINGS, viewOf(new URLSearchParams(query))).flatMap(({ findings }) =>
    findings.map(({ id }) => id),
  );

test.each([
  ['', ['a', 'b', 'd']],
  ['show=muted', ['c']],
  ['kind=cycle', ['b']],
  ['severity=warning', ['a', 'd']],
  ['project=apps/web', ['a', 'd']],
  ['by=web+crew', ['a', 'b']],
  ['since=2025-04-01', ['d']],
  ['q=ABOUT+a', ['a']],
])('the address "%s" shows %j', (query, ids) => {
  expect(shown(query)).toEqual(ids);
});

test('CSV has a line for each finding, with its first place, quoted where that is needed', () => {
  const place = { file: 'apps/web/ledger.project.toml', line: 3, column: 1 };
  const csv = findingsCsv([
    finding('a', {
      says: 'one, "two"',
      evidence: [{ kind: 'place', says: '', place, chain: null, package: null }],
    }),
  ]);
  expect(csv.split('\r\n')[1]).toBe(
    'unused,warning,apps/web,json,,"one, ""two""",apps/web/ledger.project.toml:3,c1,',
  );
});
