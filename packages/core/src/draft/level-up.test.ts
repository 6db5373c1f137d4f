import { expect, test } from 'vitest';
import { releasesAhead } from '../alignment/index.js';
import { levelUp, type Edit } from '../edit/index.js';
import { draftBase } from './draft-base.js';
import { printLock } from '../lock/index.js';
import { ReleaseTerms, releaseTermsOf, resolve } from '../resolve/index.js';
import { filesOf, recordsOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { LOCK_FILE } from '../workspace/index.js';

const DAY = '2025-01-01';
const LOG = {
  '0.9.0': {},
  '1.0.0': {},
  '1.1.0': {},
  '1.2.0': { deprecated: 'broken' },
  '2.0.0': {},
};

/** What moves `log` up, with this agreed on and these asked for; what stands in the lockfile is what is asked for. */
function edits(agreed: string | null, projects: Readonly<Record<string, string>>): readonly Edit[] {
  const records = recordsOf({ log: LOG });
  const shared = agreed === null ? '' : `format = 1\n[shared]\nlog = "${agreed}"\n`;
  const files = filesOf(
    Object.fromEntries(Object.entries(projects).map(([name, range]) => [name, { log: range }])),
    shared === '' ? {} : { 'ledger.shared.toml': shared },
  );
  const outcome = resolve({ workspace: workspaceOf(files), records, asOf: DAY, before: null });
  if (outcome.kind !== 'answered') throw new Error(outcome.kind);
  const locked = new Map(files).set(LOCK_FILE, printLock(outcome.resolution));
  const { workspace, rows } = draftBase(locked, records, DAY);
  const terms = new ReleaseTerms(releaseTermsOf(workspace!), DAY);
  const row = rows.find(({ name }) => name === 'log')!;
  return levelUp(
    workspace!,
    row,
    (version) => releasesAhead(records.get('log')!, version, terms),
    DAY,
  );
}

test.each<[string, string | null, Readonly<Record<string, string>>, readonly Edit[]]>([
  [
    'in line: the agreement moves to the newest of the same major version that is not deprecated',
    '1.0.0',
    { a: 'shared', b: 'shared' },
    [{ kind: 'set-shared', package: 'log', range: '1.1.0' }],
  ],
  [
    'nothing agreed: it is agreed on, and those with a range of their own take it',
    null,
    { a: '1.0.0', b: '1.0.0' },
    [{ kind: 'level', package: 'log', range: '^1.1.0', projects: ['a', 'b'] }],
  ],
  ['a project would take a major step: nothing', null, { a: '0.9.0', b: '1.0.0' }, []],
  ['at the newest without a major step: nothing', '1.1.0', { a: 'shared' }, []],
  ['beyond a major step: nothing', '2.0.0', { a: 'shared' }, []],
])('%s', (_, agreed, projects, expected) => {
  expect(edits(agreed, projects)).toEqual(expected);
});
