import type { SheetRow } from '../api/client';

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
export function sheetCsv(rows: readonly SheetRow[]): string {
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
  return [HEAD, ...lines].map((line) => `${line.map(field).join(',')}\r\n`).join('');
}

/** A field that a spreadsheet could take for a formula is kept as text. */
function field(text: string): string {
  const safe = /^[=+@-]/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
