import type { TextEdit } from '../text/index.js';
import { addPairs, appendBlock, nodeAt, printKey } from './edit-toml.js';
import type { TreePlan } from './plan.js';
import { endOfTable, planRemoveEntry, removeBlock } from './remove-entry.js';
import { planRemoveItems } from './set-list.js';
import { printValue, type TomlValue } from './set-value.js';
import { newlineOf, nextLine } from './toml-lines.js';
import type { TomlArray, TomlTable } from './toml-document.js';

/** One line of a new table: a key and the TOML text of its value. */
export type TableLine = readonly [key: string, value: string];

export function tableLine(key: string, value: TomlValue): TableLine {
  return [key, printValue(value)];
}

/**
 * Adds a table that is not there yet, in the manner of the table it belongs to: between its braces, by dotted keys, or
 * with a header of its own after the last of its neighbours, set apart by a blank line.
 * @param neighbours paths of tables, or of lists of tables, that it belongs beside
 */
export function addTable(
  path: readonly string[],
  lines: readonly TableLine[],
  neighbours: readonly (readonly string[])[],
): TreePlan {
  return (text, root): readonly TextEdit[] => {
    const parent = nodeAt(root, path.slice(0, -1));
    const key = path.at(-1)!;
    if (parent?.kind === 'table' && parent.origin === 'inline')
      return [addPairs(text, parent, key, [{ key: printKey(key), value: inBraces(lines) }])];
    if (parent?.kind === 'table' && parent.origin === 'dotted')
      return [
        addPairs(
          text,
          parent,
          key,
          lines.map(([name, value]) => ({ key: `${printKey(key)}.${printKey(name)}`, value })),
        ),
      ];
    return [addBlock(text, root, `[${path.map(printKey).join('.')}]`, lines, neighbours)];
  };
}

/** Adds a table to a list of tables, in the manner of the list: between its brackets, or with a header of its own. */
export function addToTables(
  path: readonly string[],
  lines: readonly TableLine[],
  neighbours: readonly (readonly string[])[],
): TreePlan {
  return (text, root): readonly TextEdit[] | null => {
    const list = nodeAt(root, path);
    if (list === null || (list.kind === 'array' && hasHeaders(list)))
      return [addBlock(text, root, `[[${path.map(printKey).join('.')}]]`, lines, neighbours)];
    if (list.kind !== 'array') return null;
    const last = list.items.at(-1);
    const [start, end] = list.span;
    return last === undefined
      ? [{ offset: start, length: end - start, text: `[${inBraces(lines)}]` }]
      : [{ offset: last.span[1], length: 0, text: `, ${inBraces(lines)}` }];
  };
}

function inBraces(lines: readonly TableLine[]): string {
  return `{ ${lines.map(([key, value]) => `${printKey(key)} = ${value}`).join(', ')} }`;
}

function hasHeaders({ items }: TomlArray): boolean {
  return items.some((item) => item.kind === 'table' && item.origin === 'header');
}

function addBlock(
  text: string,
  root: TomlTable,
  header: string,
  lines: readonly TableLine[],
  neighbours: readonly (readonly string[])[],
): TextEdit {
  const newline = newlineOf(text);
  const block = [header, ...lines.map(([key, value]) => `${printKey(key)} = ${value}`)].join(
    newline,
  );
  const ends = neighbours.flatMap((path) => endsAt(root, path));
  if (ends.length === 0) return appendBlock(text, block);
  const offset = nextLine(text, Math.max(...ends));
  const start = text[offset - 1] === '\n' ? '' : newline;
  return { offset, length: 0, text: `${start}${newline}${block}${newline}` };
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
  return node.items.flatMap((item) =>
    item.kind === 'table' && item.origin === 'header' ? [endOfTable(item)] : [],
  );
}

/** Takes away a table with all its lines, however it is written; nothing where it is not there. */
export function dropTable(path: readonly string[]): TreePlan {
  return (text, root) => planRemoveEntry(text, root, path) ?? [];
}

/** Carries plans out unless a list of tables has a table that says all of this already. */
export function unlessInTables(
  path: readonly string[],
  texts: Readonly<Record<string, string>>,
  plans: readonly TreePlan[],
): readonly TreePlan[] {
  let isThere = false;
  const look: TreePlan = (_, root) => {
    const node = nodeAt(root, path);
    isThere =
      node?.kind === 'array' &&
      node.items.some((item) => {
        const said = item.kind === 'table' ? textsOf(item) : new Map<string, string>();
        return Object.entries(texts).every(([key, value]) => said.get(key) === value);
      });
    return [];
  };
  return [
    look,
    ...plans.map(
      (plan): TreePlan =>
        (text, root) =>
          isThere ? [] : plan(text, root),
    ),
  ];
}

/** Takes away the tables of a list of tables that a test picks. */
export function dropFromTables(
  path: readonly string[],
  isMeant: (texts: ReadonlyMap<string, string>) => boolean,
): TreePlan {
  return (text, root) => {
    const node = nodeAt(root, path);
    if (node === null) return [];
    if (node.kind !== 'array') return null;
    const gone = node.items.filter(
      (item): item is TomlTable => item.kind === 'table' && isMeant(textsOf(item)),
    );
    return hasHeaders(node)
      ? gone.map((table) => removeBlock(text, table))
      : planRemoveItems(text, node, gone);
  };
}

function textsOf(table: TomlTable): ReadonlyMap<string, string> {
  return new Map(
    [...table.entries.values()].flatMap(({ key, value }): [string, string][] =>
      'value' in value ? [[key, String(value.value)]] : [],
    ),
  );
}
