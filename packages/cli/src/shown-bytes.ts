/** A size in units of a thousand. */
export function shownBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  const unit = bytes < 1e6 ? 'kB' : bytes < 1e9 ? 'MB' : 'GB';
  const value = bytes / { kB: 1e3, MB: 1e6, GB: 1e9 }[unit];
  return `${value < 10 ? value.toFixed(1) : Math.round(value)} ${unit}`;
}
