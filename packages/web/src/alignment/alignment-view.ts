import type { Alignment, AlignmentRow, ProjectName } from '../api/client';
import { STEP_RANKS } from '../parts/version-steps';

export const SCOPES = ['shared', 'direct', 'all'] as const;
/** Packages that two or more projects require, that any project does, or every one with a copy. */
export type Scope = (typeof SCOPES)[number];
export const SHOWS = ['all', 'out', 'level'] as const;
export type Show = (typeof SHOWS)[number];
export const SORTS = ['off', 'copies', 'behind', 'use', 'name', 'set'] as const;
export type Sort = (typeof SORTS)[number];
export const VIEWS = ['rails', 'grid'] as const;
export type View = (typeof VIEWS)[number];

/** What of Alignment is looked at, as the address says it. */
export interface AlignmentView {
  readonly scope: Scope;
  readonly show: Show;
  readonly sort: Sort;
  readonly view: View;
  readonly query: string;
  /** Folder of the one project whose packages are shown; empty: all. */
  readonly project: string;
  /** The one lockstep set; empty: all. */
  readonly set: string;
}

export function alignmentView(params: URLSearchParams): AlignmentView {
  return {
    scope: oneOf(SCOPES, params.get('scope')),
    show: oneOf(SHOWS, params.get('show')),
    sort: oneOf(SORTS, params.get('sort')),
    view: oneOf(VIEWS, params.get('view')),
    query: params.get('q') ?? '',
    project: params.get('project') ?? '',
    set: params.get('set') ?? '',
  };
}

function oneOf<T extends string>(all: readonly [T, ...T[]], text: string | null): T {
  return all.find((one) => one === text) ?? all[0];
}

/** The view as far as the answer at hand can show it: the scope of that answer, and no grid without cells. */
export function viewOn(
  data: Pick<Alignment, 'scope' | 'hasCells'> | undefined,
  asked: AlignmentView,
): AlignmentView {
  if (data === undefined) return asked;
  const { scope, hasCells } = data;
  return hasCells ? { ...asked, scope } : { ...asked, scope, view: 'rails', project: '' };
}

/** Rows that a view leaves of those of its scope, in its order: by every word in name, set or summary. */
export function viewRows(
  rows: readonly AlignmentRow[],
  projects: readonly ProjectName[],
  { show, sort, query, project, set }: AlignmentView,
): readonly AlignmentRow[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  const index = project === '' ? -1 : projects.findIndex(({ folder }) => folder === project);
  const left = rows.filter((row) => {
    if (show === 'out' && row.off === 0) return false;
    if (show === 'level' && row.off > 0) return false;
    if (project !== '' && !row.cells.some((cell) => cell.project === index)) return false;
    if (set !== '' && row.set !== set) return false;
    const text = `${row.name} ${row.set ?? ''} ${row.summary}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
  return sort === 'off' ? left : [...left].sort(ORDERS[sort]);
}

const byName = (a: AlignmentRow, b: AlignmentRow): number => (a.name < b.name ? -1 : 1);

const ORDERS: Readonly<Record<Exclude<Sort, 'off'>, (a: AlignmentRow, b: AlignmentRow) => number>> =
  {
    copies: (a, b) => b.copies - a.copies || byName(a, b),
    behind: (a, b) => distance(b) - distance(a) || byName(a, b),
    use: (a, b) => b.usedBy - a.usedBy || byName(a, b),
    name: byName,
    set: (a, b) =>
      (a.set === null ? 1 : 0) - (b.set === null ? 1 : 0) ||
      (a.set ?? '').localeCompare(b.set ?? '') ||
      byName(a, b),
  };

/** A step of a higher kind counts more than any number of releases. */
function distance({ behind }: AlignmentRow): number {
  return behind === null ? 0 : STEP_RANKS[behind.step] * 1e6 + behind.releases;
}

export interface AlignmentGroup {
  /** Empty: the rows stand without a heading. */
  readonly title: string;
  readonly rows: readonly AlignmentRow[];
}

/**
 * Members of a lockstep set together, the others on their own; groups with something out of line
 * first, the worst of them first of all. The order of rows within a group stays. Only for rows in the order of
 * how many are off; in any other they stand in one list.
 */
export function groupRows(
  rows: readonly AlignmentRow[],
  sort: Sort = 'off',
): readonly AlignmentGroup[] {
  if (sort !== 'off') return rows.length === 0 ? [] : [{ title: '', rows }];
  const groups = new Map<string, AlignmentRow[]>();
  for (const row of rows) {
    const title = titleOf(row);
    const group = groups.get(title);
    if (group === undefined) groups.set(title, [row]);
    else group.push(row);
  }
  const worst = (list: readonly AlignmentRow[]): number =>
    list.reduce((most, { off }) => Math.max(most, off), 0);
  return [...groups]
    .map(([title, list]) => ({ title, rows: list }))
    .sort((a, b) => worst(b.rows) - worst(a.rows));
}

function titleOf({ set, agreed, off, usedBy }: AlignmentRow): string {
  if (set !== null) return `${set}: these move together at ${agreed ?? 'no version yet'}`;
  if (usedBy === 0) return 'brought in by copies alone';
  return off > 0 ? 'on their own' : 'on their own, in line';
}
