import type { TextEdit } from '../text/index.js';
import { planAddEntry } from './edit-toml.js';
import { planRemoveEntry } from './remove-entry.js';
import { parseToml } from './toml-document.js';

/** Adds an entry to a table of any TOML text; null where the text cannot be read. @param value its source */
export function planAddTomlEntry(
  text: string,
  path: readonly string[],
  key: string,
  value: string,
): readonly TextEdit[] | null {
  const parsed = parseToml(text);
  return parsed.ok ? [planAddEntry(text, parsed.root, path, key, value)] : null;
}

/** Takes an entry out of any TOML text; null where there is none. */
export function planRemoveTomlEntry(
  text: string,
  path: readonly string[],
): readonly TextEdit[] | null {
  const parsed = parseToml(text);
  return parsed.ok ? planRemoveEntry(text, parsed.root, path) : null;
}
