import type { TextEdit } from '../text/index.js';
import { nodeAt, planAddEntry } from './edit-toml.js';
import { parseToml } from './toml-document.js';
import { planRemoveEntry, removeLines } from './remove-entry.js';
import { tomlUnits, unitKey } from './toml-units.js';

/**
 * Plans what makes a unit of a manifest say what another text of it says. Nothing else changes.
 * @param wanted null: the unit goes, and the lines that it stands on
 */
export function planSetUnit(
  text: string,
  path: readonly string[],
  wanted: { readonly source: string; readonly isBlock: boolean } | null,
): TextEdit | null {
  const parsed = parseToml(text);
  const unit = tomlUnits(text)?.get(unitKey(path));
  if (!parsed.ok) return null;
  if (wanted === null) {
    if (unit === undefined) return null;
    return planRemoveEntry(text, parsed.root, path) ?? removeLines(text, unit.whole);
  }
  if (unit !== undefined) {
    const [start, end] = wanted.isBlock ? unit.whole : unit.span;
    return { offset: start, length: end - start, text: wanted.source };
  }
  if (wanted.isBlock) {
    const gap = text === '' || text.endsWith('\n') ? '\n' : '\n\n';
    return { offset: text.length, length: 0, text: `${gap}${wanted.source}\n` };
  }
  return planAddEntry(text, parsed.root, path.slice(0, -1), path.at(-1)!, wanted.source);
}

/** Plans the removal of a table's header where the table has nothing in it. */
export function planRemoveEmptyTable(text: string, path: readonly string[]): TextEdit | null {
  const parsed = parseToml(text);
  if (!parsed.ok) return null;
  const table = nodeAt(parsed.root, path);
  if (table?.kind !== 'table' || table.entries.size > 0 || table.origin !== 'header') return null;
  const [start, end] = table.span;
  const newline = text.indexOf('\n', end);
  const lineEnd = newline < 0 ? text.length : newline + 1;
  return { offset: start, length: lineEnd - start, text: '' };
}
