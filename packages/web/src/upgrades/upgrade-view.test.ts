import { expect, test } from 'vitest';
import type { Offer, UpgradeRow, UpgradeTrial } from '../api/client';
import {
  chosenFrom,
  chosenText,
  marksWords,
  partsToTry,
  priceWords,
  releaseMarks,
  shownRows,
  takenAway,
  usualOffer,
  chosenOffer,
  type UpgradeView,
} from './upgrade-view';

function offer(name: string, kind: Offer['kind'], to: string): Offer {
  return { name, kind, to, published: '2026-06-01', moves: [{ package: name, from: '1.0.0', to }] };
}

const LOG: UpgradeRow = {
  name: '@crew/log',
  packages: ['@crew/log'],
  isSet: false,
  isDirect: true,
  projects: ['apps/kiosk'],
  owners: ['kiosk crew'],
  kinds: ['runtime'],
  from: '1.0.0',
  others: [],
  since: '2026-01-01',
  newer: [
    { version: '1.0.1', published: '2026-02-01', step: 'patch', why: null },
    { version: '1.0.2', published: '2026-04-01', step: 'patch', why: null },
    { version: '1.1.0', published: '2026-06-01', step: 'minor', why: null },
    { version: '2.0.0', published: '2026-11-01', step: 'major', why: 'withdrawn' },
  ],
  offers: [offer('@crew/log', 'patch', '1.0.2'), offer('@crew/log', 'minor', '1.1.0')],
  pin: null,
  isExcepted: false,
  deprecated: null,
};
const GRID: UpgradeRow = {
  ...LOG,
  name: 'grid',
  packages: ['grid-core', 'grid-forms'],
  isSet: true,
  isDirect: false,
  newer: [{ version: '2.0.0', published: '2026-03-01', step: 'major', why: null }],
  offers: [offer('grid', 'major', '2.0.0')],
};

const GOOD: UpgradeTrial = {
  against: [],
  price: { files: 1, moved: 1, entered: 0, left: 0, bytes: 0 },
};
const BAD: UpgradeTrial = { against: ['No.'], price: null };

const ANY: UpgradeView = { query: '', which: 'all', project: null, owner: null, as: null };

test('offers are tried in ever larger parts, each once and in order', () => {
  const all = Array.from({ length: 816 }, (_, i) => i);
  const sizes = (count: number) => partsToTry(all.slice(0, count)).map((part) => part.length);
  expect(sizes(0)).toEqual([]);
  expect(sizes(20)).toEqual([20]);
  expect(sizes(100)).toEqual([24, 24, 48, 4]);
  expect(sizes(816)).toEqual([24, 24, 48, 96, 192, 192, 192, 48]);
  expect(partsToTry(all).flat()).toEqual(all);
});

test('rows are found by the names of sets and of their members; direct ones alone, or all', () => {
  const names = (query: string, isAll: boolean) =>
    shownRows([LOG, GRID], { ...ANY, query, which: isAll ? 'all' : 'direct' }).map(
      ({ name }) => name,
    );
  expect(names('', false)).toEqual(['@crew/log']);
  expect(names('', true)).toEqual(['@crew/log', 'grid']);
  expect(names(' FORMS', true)).toEqual(['grid']);
  const of = (project: string) =>
    shownRows([LOG, { ...GRID, projects: [] }], { ...ANY, project }).length;
  expect([of('apps/kiosk'), of('apps/inn')]).toEqual([1, 0]);
  const ownedBy = (owner: string) =>
    shownRows([LOG, { ...GRID, owners: [] }], { ...ANY, owner }).length;
  expect([ownedBy('kiosk crew'), ownedBy('desk crew')]).toEqual([1, 0]);
});

test('the usual offer is the largest step below a major one that can be taken', () => {
  const tried = (patch: UpgradeTrial, minor: UpgradeTrial) =>
    new Map([
      ['@crew/log 1.0.2', patch],
      ['@crew/log 1.1.0', minor],
    ]);
  expect(usualOffer(LOG, tried(GOOD, GOOD))?.to).toBe('1.1.0');
  expect(usualOffer(LOG, tried(GOOD, BAD))?.to).toBe('1.0.2');
  expect(usualOffer(LOG, tried(BAD, BAD))).toBeNull();
  expect(usualOffer(LOG, new Map())).toBeNull();
  expect(usualOffer(GRID, new Map([['grid 2.0.0', GOOD]]))).toBeNull();
  // Chosen, it takes the same whether its trial is over or not.
  expect(chosenOffer(LOG, new Map())?.to).toBe('1.1.0');
  expect(chosenOffer(LOG, tried(GOOD, BAD))?.to).toBe('1.0.2');
  expect(chosenOffer(LOG, tried(BAD, BAD))?.to).toBe('1.0.2');
  expect(chosenOffer(GRID, new Map())?.to).toBe('2.0.0');
});

test('a choice goes into the address and comes back; what is no longer offered does not', () => {
  const chosen = new Map([
    ['@crew/log', LOG.offers[1]!],
    ['grid', GRID.offers[0]!],
  ]);
  const text = chosenText(chosen);
  expect(text).toBe('@crew/log@1.1.0,grid@2.0.0');
  expect(chosenFrom(text, [LOG, GRID])).toEqual(chosen);
  expect(chosenFrom('grid@9.0.0,gone@1.0.0,', [LOG, GRID]).size).toBe(0);
});

test('marks stand where their day is, in the lane of their step, and look as they were tried', () => {
  const marks = releaseMarks(LOG, new Map([['@crew/log 1.1.0', BAD]]), '2026-12-01');
  expect(marks.map(({ version, lane, look }) => [version, lane, look])).toEqual([
    ['1.0.1', 1, 'passed'],
    ['1.0.2', 1, 'offer'],
    ['1.1.0', 2, 'bad'],
    ['2.0.0', 3, 'shut'],
  ]);
  const across = marks.map(({ x }) => x);
  expect(across).toEqual([...across].sort((a, b) => a - b));
  expect(across.every((x) => x > 0 && x < 1)).toBe(true);
  expect(marksWords(LOG, new Map([['@crew/log 1.1.0', BAD]]))).toBe(
    '4 newer releases than 1.0.0: patch 1.0.2, not tried yet; minor 1.1.0, something stands against it',
  );
});

test('prices and what an age takes away are told in words and figures', () => {
  expect(priceWords({ files: 2, moved: 1, entered: 1, left: 0, bytes: -1_200_000 })).toBe(
    '1 copy moves · 1 in · 2 files · −1.2 MB',
  );
  expect(takenAway([LOG, GRID], [{ ...LOG, offers: [] }, GRID])).toBe(2);
});
