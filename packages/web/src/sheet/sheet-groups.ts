import type { SheetRow } from '../api/client';

export type Show = 'out' | 'level' | 'all';

export interface SheetGroup {
  readonly title: string;
  readonly rows: readonly SheetRow[];
}

/** Rows that a filter leaves: by standing, and by every word in name, set or summary. */
export function filterRows(
  rows: readonly SheetRow[],
  show: Show,
  query: string,
): readonly SheetRow[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  return rows.filter((row) => {
    if (show === 'out' && row.off === 0) return false;
    if (show === 'level' && row.off > 0) return false;
    const text = `${row.name} ${row.set ?? ''} ${row.summary}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
}

/**
 * Members of a lockstep set together, the others on their own; groups with something out of line
 * first, the worst of them first of all. The order of rows within a group stays.
 */
export function groupRows(rows: readonly SheetRow[]): readonly SheetGroup[] {
  const groups = new Map<string, SheetRow[]>();
  for (const row of rows) {
    const title = titleOf(row);
    groups.set(title, [...(groups.get(title) ?? []), row]);
  }
  const worst = (list: readonly SheetRow[]): number => Math.max(...list.map(({ off }) => off));
  return [...groups]
    .map(([title, list]) => ({ title, rows: list }))
    .sort((a, b) => worst(b.rows) - worst(a.rows));
}

function titleOf({ set, agreed, off }: SheetRow): string {
  if (set !== null) return `${set}: these move together at ${agreed ?? 'no version yet'}`;
  return off > 0 ? 'on their own' : 'on their own, in line';
}
