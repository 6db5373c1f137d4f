/** A size in units of a thousand, to three digits. */
export function bytes(size: number): string {
  if (size < 1000) return `${size} B`;
  const unit = size < 1e6 ? 'kB' : size < 1e9 ? 'MB' : 'GB';
  const value = size / { kB: 1e3, MB: 1e6, GB: 1e9 }[unit];
  return `${value < 10 ? value.toFixed(1) : Math.round(value)} ${unit}`;
}
