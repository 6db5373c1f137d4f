import { expect, test } from 'vitest';
import { matchingPackages } from './matching-packages.js';

const PACKAGES = [
  { name: 'scree-log', summary: 'structured logging' },
  { name: 'log', summary: '' },
  { name: 'Logbook', summary: 'days' },
  { name: 'roster', summary: 'who is on watch, with a log' },
  { name: 'dates', summary: 'days' },
];

test.each([
  ['log', ['log', 'Logbook', 'scree-log', 'roster']],
  ['LOG days', ['Logbook']],
  ['watch log', ['roster']],
  ['nothing', []],
  ['', ['Logbook', 'dates', 'log', 'roster', 'scree-log']],
])('"%s" finds the best first', (query, names) => {
  expect(matchingPackages(PACKAGES, query).map(({ name }) => name)).toEqual(names);
});
