import type { Lock, LockCommit, LockCopy } from '../api/client';

export const ORDERS = [
  { value: 'name', text: 'by name' },
  { value: 'new', text: 'newest here first' },
  { value: 'demands', text: 'most demanded first' },
  { value: 'bytes', text: 'largest first' },
] as const;
export type Order = (typeof ORDERS)[number]['value'];

export interface LockView {
  readonly query: string;
  readonly order: Order;
  /** Only packages with several copies. */
  readonly isSeveral: boolean;
}

export function lockViewOf(params: URLSearchParams): LockView {
  const order = ORDERS.find(({ value }) => value === params.get('order'));
  return {
    query: params.get('q') ?? '',
    order: order?.value ?? 'name',
    isSeveral: params.get('several') === 'yes',
  };
}

/** The copies that are looked for, in their order. */
export function copiesIn(
  { copies }: Pick<Lock, 'copies'>,
  { query, order, isSeveral }: LockView,
): readonly LockCopy[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  const found = copies.filter(
    ({ name, version, isOneOfSeveral }) =>
      (!isSeveral || isOneOfSeveral) && words.every((word) => `${name} ${version}`.includes(word)),
  );
  switch (order) {
    case 'name':
      return found;
    case 'new':
      return found.toSorted((a, b) => (b.since ?? -1) - (a.since ?? -1));
    case 'demands':
      return found.toSorted((a, b) => b.demands - a.demands);
    case 'bytes':
      return found.toSorted((a, b) => b.bytes - a.bytes);
  }
}

/** The commit that brought a copy; null: not known yet. */
export function broughtBy(lock: Pick<Lock, 'commits'>, copy: LockCopy): LockCommit | null {
  return copy.since === null ? null : (lock.commits[copy.since] ?? null);
}
