import type { AlignmentRow } from '../api/client';
import { csvText } from '../parts/csv';

const HEAD = [
  'package',
  'set',
  'agreed',
  'pin',
  'newest',
  'used by',
  'off',
  'copies',
  'versions in use',
  'ranges',
  'behind',
];

/** The rows as CSV (RFC 4180), in their order. */
export function alignmentCsv(rows: readonly AlignmentRow[]): string {
  const lines = rows.map(
    ({ name, set, agreed, pin, newest, usedBy, off, copies, marks, reaches, behind }) => [
      name,
      set ?? '',
      agreed ?? '',
      pin ?? '',
      newest ?? '',
      String(usedBy),
      String(off),
      String(copies),
      marks.map(({ version }) => version).join(' '),
      reaches.map(({ range }) => range).join(', '),
      behind === null ? '' : `${behind.step} (${behind.releases})`,
    ],
  );
  return csvText([HEAD, ...lines]);
}
