import type { Span } from '../text/index.js';
import type { TableReader } from './table-reader.js';

/** Who answers for which projects, a line of `[owners]` in `ledger.toml`. */
export interface OwnerLine {
  readonly name: string;
  /** Patterns of folders; they count in order, and one that begins with `!` takes folders back. */
  readonly folders: readonly { readonly text: string; readonly span: Span }[];
}

/** `"kiosk crew" = ["apps/season-*"]` for each owner. A name that is blank is left out and reported. */
export function readOwners(root: TableReader): readonly OwnerLine[] {
  const reader = root.tableAt('owners');
  if (reader === null) return [];
  return [...reader.table.entries.values()].flatMap(({ key, keySpan }): OwnerLine[] => {
    const folders = reader.strings(key);
    if (key.trim() !== '') return [{ name: key, folders }];
    reader.problems.push({ code: 'OWNER_NAMELESS', span: keySpan });
    return [];
  });
}
