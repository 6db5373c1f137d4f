/** Lines of fields as CSV (RFC 4180). */
export function csvText(lines: readonly (readonly string[])[]): string {
  return lines.map((line) => `${line.map(field).join(',')}\r\n`).join('');
}

/** A field that a spreadsheet could take for a formula, also behind a tab or a line end, is kept as text. */
function field(text: string): string {
  const safe = /^[=+@\-\t\r\n]/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
