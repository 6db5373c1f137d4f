import type { SheetRow } from '../api/client';

export type Show = 'out' | 'level' | 'all';

export interface SheetGroup {
  /** A lockstep set's name; null for the packages on their own. */
  readonly set: string | null;
  readonly agreed: string | null;
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

/** Members of a lockstep set together, the group with the most out of line first; the order of rows stays. */
export function groupRows(rows: readonly SheetRow[]): readonly SheetGroup[] {
  const groups = new Map<string | null, SheetRow[]>();
  for (const row of rows) groups.set(row.set, [...(groups.get(row.set) ?? []), row]);
  const worst = (list: readonly SheetRow[]): number => Math.max(...list.map(({ off }) => off));
  return [...groups]
    .map(([set, list]) => ({
      set,
      agreed: set === null ? null : (list[0]?.agreed ?? null),
      rows: list,
    }))
    .sort((a, b) => worst(b.rows) - worst(a.rows));
}
