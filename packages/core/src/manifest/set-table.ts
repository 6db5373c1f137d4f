import type { TextEdit } from '../text/index.js';
import { nodeAt, printKey } from './edit-toml.js';
import type { TreePlan } from './plan.js';
import { endOfTable, planRemoveEntry, removeBlock } from './remove-entry.js';
import { printValue, type TomlValue } from './set-value.js';
import type { TomlTable } from './toml-document.js';

/** A table with a header of its own, with its lines in this order. */
export interface NewTable {
  /** With brackets: `[lockstep.grid]` or `[[exceptions]]`. */
  readonly header: string;
  readonly lines: readonly string[];
}

export function tableLine(key: string, value: TomlValue): string {
  return `${printKey(key)} = ${printValue(value)}`;
}

/**
 * Adds a table after the last of its neighbours that are there, set apart by a blank line; at the end of the
 * file where none is.
 * @param neighbours paths of tables, or of lists of tables, that it belongs beside
 */
export function addTable(
  { header, lines }: NewTable,
  neighbours: readonly (readonly string[])[],
): TreePlan {
  return (text, root): readonly TextEdit[] => {
    const newline = text.includes('\r\n') ? '\r\n' : '\n';
    const block = [header, ...lines].join(newline);
    const ends = neighbours.flatMap((path) => endsAt(root, path));
    if (ends.length === 0) {
      const gap = text === '' ? '' : text.endsWith('\n') ? newline : newline + newline;
      return [{ offset: text.length, length: 0, text: `${gap}${block}${newline}` }];
    }
    const lineEnd = text.indexOf('\n', Math.max(...ends));
    const offset = lineEnd < 0 ? text.length : lineEnd + 1;
    const start = lineEnd < 0 ? newline : '';
    return [{ offset, length: 0, text: `${start}${newline}${block}${newline}` }];
  };
}

function endsAt(root: TomlTable, path: readonly string[]): readonly number[] {
  const node = nodeAt(root, path);
  if (node?.kind === 'table') {
    const below = [...node.entries.values()].flatMap(({ value }) =>
      value.kind === 'table' && value.origin === 'header' ? [endOfTable(value)] : [],
    );
    return node.origin === 'header' ? [endOfTable(node), ...below] : below;
  }
  if (node?.kind !== 'array') return [];
  return node.items.flatMap((item) => (item.kind === 'table' ? [endOfTable(item)] : []));
}

/** Takes away a table with all its lines, however it is written; nothing where it is not there. */
export function dropTable(path: readonly string[]): TreePlan {
  return (text, root) => {
    const node = nodeAt(root, path);
    if (node === null) return [];
    if (node.kind === 'table' && node.origin === 'header') return [removeBlock(text, node)];
    const edit = planRemoveEntry(text, root, path);
    return edit === null || (node.kind === 'table' && node.origin !== 'inline') ? null : [edit];
  };
}

/** Takes away the tables of a list of tables that a test picks; those between braces cannot be. */
export function dropFromTables(
  path: readonly string[],
  isMeant: (texts: ReadonlyMap<string, string>) => boolean,
): TreePlan {
  return (text, root) => {
    const node = nodeAt(root, path);
    if (node === null) return [];
    if (node.kind !== 'array') return null;
    const meant = node.items.flatMap((item) =>
      item.kind === 'table' && isMeant(textsOf(item)) ? [item] : [],
    );
    return meant.every(({ origin }) => origin === 'header')
      ? meant.map((table) => removeBlock(text, table))
      : null;
  };
}

function textsOf(table: TomlTable): ReadonlyMap<string, string> {
  return new Map(
    [...table.entries.values()].flatMap(({ key, value }): [string, string][] =>
      'value' in value ? [[key, String(value.value)]] : [],
    ),
  );
}
