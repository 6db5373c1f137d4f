import { expect, test } from 'vitest';
import { printLock } from '../lock/index.js';
import { ReleaseTerms, releaseTermsOf, resolve } from '../resolve/index.js';
import { filesOf, recordsOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { projectAlignment, type ProjectAlignment } from './project-alignment.js';
import { behindNewest } from './releases-ahead.js';
import { alignmentRows } from './alignment-row.js';

const DAY = '2025-01-01';
const RECORDS = recordsOf({
  log: { '1.0.0': { needs: { ink: '^1.0.0', tape: '^1.0.0' } }, '2.0.0': {} },
  ink: { '1.0.0': { needs: { well: '*' } } },
  well: { '1.0.0': {} },
  tape: { '1.0.0': {}, '1.1.0': {}, '1.2.0-rc.1': {}, '1.3.0': { withdrawn: true } },
});

function alignmentOf(folder: string): ProjectAlignment | null {
  const files = filesOf(
    {
      web: { log: '^1.0.0', kit: 'workspace' },
      kit: { tape: 'shared' },
      desk: { tape: '~1.0.0' },
    },
    { 'ledger.shared.toml': 'format = 1\n[shared]\ntape = "^1.0.0"\n' },
  );
  const workspace = workspaceOf(files);
  const outcome = resolve({ workspace, records: RECORDS, asOf: DAY, before: null });
  if (outcome.kind !== 'answered') throw new Error(outcome.kind);
  expect(printLock(outcome.resolution)).toContain('copy tape');
  const rows = alignmentRows(workspace, RECORDS, outcome.resolution, DAY);
  return projectAlignment(workspace, RECORDS, outcome.resolution, rows, folder, DAY);
}

test('beneath a requirement stands what it alone brings, not what others require too', () => {
  const { lines, copies, requiredBy } = alignmentOf('web')!;
  expect(
    lines.map(({ requirement, standing, isOff, copy, bringsAlone, bytesAlone }) => [
      requirement.name,
      standing?.kind ?? null,
      isOff,
      copy,
      bringsAlone.map(({ name }) => name),
      bytesAlone,
    ]),
  ).toEqual([
    ['log', 'nothing-agreed', false, '1.0.0', ['log', 'ink', 'well'], 300],
    ['kit', null, false, null, [], 0],
  ]);
  expect(copies).toBe(4);
  expect(requiredBy).toEqual([]);
});

test('what others bring too is brought alone by nobody', () => {
  expect(alignmentOf('kit')!.lines[0]).toMatchObject({ copy: '1.0.0', bringsAlone: [] });
  expect(alignmentOf('kit')!.requiredBy.map(({ name }) => name)).toEqual(['web']);
  expect(alignmentOf('desk')!.lines[0]).toMatchObject({ isOff: true, standing: { kind: 'off' } });
  expect(alignmentOf('nowhere')).toBeNull();
});

test.each([
  ['1.0.0', { step: 'minor', newest: '1.1.0', releases: 1 }],
  ['0.9.0', { step: 'major', newest: '1.1.0', releases: 2 }],
  ['1.1.0', null],
  ['1.2.0-rc.1', null],
])('%s is behind by releases that are neither withdrawn nor prereleases', (version, behind) => {
  const terms = new ReleaseTerms(releaseTermsOf(workspaceOf(filesOf({ a: {} }))), '2025-01-01');
  expect(behindNewest(RECORDS.get('tape')!, version, terms)).toEqual(behind);
});
