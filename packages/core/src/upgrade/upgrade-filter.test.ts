import { expect, test } from 'vitest';
import type { UpgradeRow } from './offers.js';
import { filteredRows, type UpgradeFilter } from './upgrade-filter.js';

const ROW: UpgradeRow = {
  name: 'log',
  packages: ['log'],
  isSet: false,
  isDirect: true,
  projects: ['apps/web'],
  owners: ['web crew'],
  kinds: ['runtime'],
  from: '1.0.0',
  others: [],
  since: null,
  newer: [],
  offers: [],
  pin: null,
  isExcepted: false,
  deprecated: null,
};
const ROWS: readonly UpgradeRow[] = [
  ROW,
  {
    ...ROW,
    name: 'deep',
    packages: ['deep'],
    isDirect: false,
    projects: [],
    owners: [],
    kinds: [],
  },
  { ...ROW, name: 'ui', packages: ['ui-core', 'ui-grid'], isSet: true, kinds: ['dev'] },
];

test.each<[UpgradeFilter, readonly string[]]>([
  [{}, ['log', 'ui']],
  [{ isAll: true }, ['log', 'deep', 'ui']],
  [{ project: 'apps/kit' }, []],
  [{ owner: 'web crew' }, ['log', 'ui']],
  [{ owner: 'kiosk crew' }, []],
  [{ as: 'dev' }, ['ui']],
  [{ isSet: true }, ['ui']],
  [{ packages: ['l*'] }, ['log']],
  // A set goes as one: by its own name or that of a member.
  [{ packages: ['ui-g*'] }, ['ui']],
  [{ except: ['ui'] }, ['log']],
  [{ packages: ['*'], except: ['log'] }, ['ui']],
])('%o leaves %o', (filter, names) => {
  expect(filteredRows(ROWS, filter).map(({ name }) => name)).toEqual(names);
});
