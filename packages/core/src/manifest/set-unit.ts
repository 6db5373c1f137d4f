import type { TextEdit } from '../text/index.js';
import { appendBlock, planAddEntry } from './edit-toml.js';
import { parseToml } from './toml-document.js';
import { planRemoveEntry, planRemoveIfEmpty, removeLines } from './remove-entry.js';
import { tomlUnits, unitKey } from './toml-units.js';

/**
 * Plans what makes a unit of a manifest say what another text of it says. Nothing else changes.
 * @param wanted null: the unit goes, and the lines that it stands on
 */
export function planSetUnit(
  text: string,
  path: readonly string[],
  wanted: { readonly source: string; readonly isBlock: boolean } | null,
): readonly TextEdit[] {
  const parsed = parseToml(text);
  const unit = tomlUnits(text)?.get(unitKey(path));
  if (!parsed.ok) return [];
  if (wanted === null) {
    if (unit === undefined) return [];
    return planRemoveEntry(text, parsed.root, path) ?? [removeLines(text, unit.whole)];
  }
  if (unit !== undefined) {
    const [start, end] = wanted.isBlock ? unit.whole : unit.span;
    return [{ offset: start, length: end - start, text: wanted.source }];
  }
  if (wanted.isBlock) return [appendBlock(text, wanted.source)];
  return [planAddEntry(text, parsed.root, path.slice(0, -1), path.at(-1)!, wanted.source)];
}

/** Plans the removal of a table where the table has nothing in it. */
export function planRemoveEmptyTable(text: string, path: readonly string[]): readonly TextEdit[] {
  const parsed = parseToml(text);
  return parsed.ok ? planRemoveIfEmpty(text, parsed.root, path) : [];
}
