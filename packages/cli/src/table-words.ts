/** Rows as columns of one width each, parted by two blanks, without blanks at the ends of lines. */
export function tableWords(rows: readonly (readonly string[])[]): readonly string[] {
  const widths = (rows[0] ?? []).map((_, i) => Math.max(...rows.map((row) => row[i]!.length)));
  return rows.map((row) =>
    row
      .map((text, i) => text.padEnd(widths[i]!))
      .join('  ')
      .trimEnd(),
  );
}
