import { expect, test } from 'vitest';
import type { Edit } from '../api/client';
import { pencilledCells } from './pencilled-cells';

const EDITS: readonly Edit[] = [
  { kind: 'level', package: 'scree-log', range: '^3.2.1', projects: ['apps/kiosk'] },
  { kind: 'take-shared', package: 'cairn-dates', projects: ['apps/kiosk'] },
  { kind: 'remove-requirement', package: 'neve-cache', projects: ['apps/kiosk'] },
  { kind: 'set-range', package: 'tarn-json', range: '~1.2.0', projects: ['apps/kiosk'] },
  { kind: 'change-kind', package: 'talus-test', as: 'dev', projects: ['apps/kiosk'] },
];

test.each([
  ['scree-log', '^3.2.1'],
  ['cairn-dates', '~2.4.0'],
  ['neve-cache', '–'],
  ['tarn-json', '~1.2.0'],
  ['talus-test', 'dev'],
  ['firnstore', null],
])('with the edits the cell of %s says %s', (name, value) => {
  const cell = pencilledCells(EDITS, (one) => (one === 'cairn-dates' ? '~2.4.0' : null));
  expect(cell(name, 'apps/kiosk')).toBe(value);
  expect(cell(name, 'apps/web')).toBeNull();
});
