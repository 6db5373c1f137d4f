/** How many are out of line, as a ledger writes a negative amount. */
export function Off({ count }: { readonly count: number }) {
  if (count === 0) return <span className="text-ink-3">–</span>;
  return <span className="text-off">({count})</span>;
}
