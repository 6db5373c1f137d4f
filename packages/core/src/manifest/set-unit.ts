import { applyEdits, type TextEdit } from '../text/index.js';
import { appendBlock, nodeAt, planAddEntry } from './edit-toml.js';
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
function planRemoveEmptyTable(text: string, path: readonly string[]): readonly TextEdit[] {
  const parsed = parseToml(text);
  return parsed.ok ? planRemoveIfEmpty(text, parsed.root, path) : [];
}

/** What a unit is to say, with the text that says it. */
export interface WantedUnit {
  readonly path: readonly string[];
  readonly value: string;
  readonly source: string;
  readonly isBlock: boolean;
}

/**
 * The text with its units as they are wanted: those that are not wanted are gone, those that say otherwise say it.
 * Null where the text is no TOML, or where it cannot be brought there. O(length) for each new table; what stands in tables
 * that are there is set at once.
 */
export function withUnits(text: string, wanted: ReadonlyMap<string, WantedUnit>): string | null {
  const units = tomlUnits(text);
  if (units === null) return null;
  const gone = [...units].flatMap(([key, { path }]) => (wanted.has(key) ? [] : [path]));
  let now = withoutPaths(text, gone);
  for (let open = Infinity; ;) {
    const left = stillOpen(now, wanted);
    if (left?.length === 0) return now;
    if (left === null || left.length >= open) return null;
    open = left.length;
    now = withSome(now, left);
  }
}

type OpenUnit = readonly [key: string, unit: WantedUnit];

/** Units that do not say what is wanted; null: the text is no TOML. */
function stillOpen(
  text: string,
  wanted: ReadonlyMap<string, WantedUnit>,
): readonly OpenUnit[] | null {
  const units = tomlUnits(text);
  if (units === null) return null;
  return [...wanted].filter(([key, { value }]) => units.get(key)?.value !== value);
}

function withoutPaths(text: string, paths: readonly (readonly string[])[]): string {
  let now = text;
  // Removals of dotted keys and braces may touch when made together; then each is made by itself.
  const edits = paths.flatMap((path) => planSetUnit(text, path, null));
  if (isApart(edits)) now = applyEdits(text, edits);
  else for (const path of paths) now = applyEdits(now, planSetUnit(now, path, null));
  return withoutEmptyTables(now, paths);
}

/** The text without the tables that these units stood in, where nothing is left in them. O(length) for each table. */
export function withoutEmptyTables(text: string, paths: readonly (readonly string[])[]): string {
  const parents = new Map<string, readonly string[]>();
  for (const path of paths)
    for (let depth = path.length - 1; depth > 0; depth--)
      parents.set(unitKey(path.slice(0, depth)), path.slice(0, depth));
  const deepestFirst = [...parents.values()].sort((a, b) => b.length - a.length);
  let now = text;
  for (const path of deepestFirst) now = applyEdits(now, planRemoveEmptyTable(now, path));
  return now;
}

function isApart(edits: readonly TextEdit[]): boolean {
  const sorted = [...edits].sort((a, b) => a.offset - b.offset);
  return sorted.every(
    ({ offset }, i) => i === 0 || sorted[i - 1]!.offset + sorted[i - 1]!.length <= offset,
  );
}

/** Sets what can be set without reading the text again: all in tables that are there, else the first that has none. */
function withSome(text: string, open: readonly OpenUnit[]): string {
  const parsed = parseToml(text);
  const units = tomlUnits(text);
  if (!parsed.ok || units === null) return text;
  const isThere = ({ path, isBlock }: WantedUnit): boolean => {
    const table = isBlock ? null : nodeAt(parsed.root, path.slice(0, -1));
    return table?.kind === 'table' && table.origin !== 'implied' && table.entries.size > 0;
  };
  const together = open.filter(([key, unit]) => units.has(key) || isThere(unit));
  const chosen = together.length > 0 ? together : open.slice(0, 1);
  const edits = chosen.flatMap(([key, unit]): readonly TextEdit[] => {
    const there = units.get(key);
    if (there !== undefined) {
      const [start, end] = unit.isBlock ? there.whole : there.span;
      return [{ offset: start, length: end - start, text: unit.source }];
    }
    if (unit.isBlock) return [appendBlock(text, unit.source)];
    const { path, source } = unit;
    return [planAddEntry(text, parsed.root, path.slice(0, -1), path.at(-1)!, source)];
  });
  return applyEdits(text, edits);
}
