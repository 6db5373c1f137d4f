import { parseToml, type TomlNode, type TomlTable } from './toml-document.js';
import type { Span } from '../text/index.js';

/** One thing that a manifest says, as it is merged: a requirement, a shared version, an exception, a list. */
export interface ManifestUnit {
  /**
   * Keys that lead to it; those of an exception are `exceptions`, project and package, those of a muted finding `muted` and
   * its name. An entry of a list that nothing tells apart from another has its place in the list.
   */
  readonly path: readonly string[];
  /** The value as JSON with sorted keys, so that its spelling does not count. */
  readonly value: string;
  /** Its texts, where it is a list of strings: those are merged one by one. */
  readonly list: readonly string[] | null;
  /** The value as written; of a block all its lines. */
  readonly source: string;
  /** Is it an entry of a list with a header of its own? */
  readonly isBlock: boolean;
  /** Of the value. */
  readonly span: Span;
  /** Of the whole, key or header included. */
  readonly whole: Span;
}

/** Tables whose entries are units even where they are tables themselves. */
const UNIT_TABLES = [
  /^needs$/,
  /^needs\/(dev|peer|optional)$/,
  /^everywhere$/,
  /^shared$/,
  /^pins$/,
];

/** Keys that tell the tables of a list apart, by the path of the list. */
const LIST_KEYS: Readonly<Record<string, readonly string[]>> = {
  exceptions: ['project', 'package'],
  otherwise: ['of', 'package'],
  muted: ['finding'],
  accepted: ['id'],
  standing: ['name'],
  'scan/patterns': ['reads'],
};

/** The units of a manifest by their path, or null where it is no TOML. O(length). */
export function tomlUnits(text: string): ReadonlyMap<string, ManifestUnit> | null {
  const parsed = parseToml(text);
  if (!parsed.ok) return null;
  const units = new Map<string, ManifestUnit>();
  collect(text, parsed.root, [], units);
  return units;
}

export function unitKey(path: readonly string[]): string {
  return path.join('\n');
}

function collect(
  text: string,
  table: TomlTable,
  path: readonly string[],
  units: Map<string, ManifestUnit>,
): void {
  const areUnits = UNIT_TABLES.some((pattern) => pattern.test(path.join('/')));
  const add = (at: readonly string[], node: TomlNode, whole: Span, isBlock = false): void => {
    units.set(unitKey(at), {
      path: at,
      value: JSON.stringify(plain(node)),
      list: listOf(node),
      source: text.slice(...(isBlock ? whole : node.span)),
      isBlock,
      span: node.span,
      whole,
    });
  };
  for (const { key, value, span } of table.entries.values()) {
    const at = [...path, key];
    const isKindTable = path.join() === 'needs' && ['dev', 'peer', 'optional'].includes(key);
    if (value.kind === 'table' && (!areUnits || isKindTable)) collect(text, value, at, units);
    else if (value.kind === 'array' && value.items.some(({ kind }) => kind === 'table')) {
      for (const [i, item] of value.items.entries()) {
        if (item.kind !== 'table') continue;
        const named = [...at, ...namesOf(item, at)];
        const path =
          named.length === at.length || units.has(unitKey(named)) ? [...named, `${i}`] : named;
        add(path, item, tableSpan(item), item.origin === 'header');
      }
    } else add(at, value, span);
  }
}

/** What tells a table of a list apart from the others; none: nothing does. */
function namesOf(item: TomlTable, list: readonly string[]): readonly string[] {
  const keys = LIST_KEYS[list.join('/')] ?? [];
  return keys.flatMap((key) => {
    const found = item.entries.get(key)?.value;
    return found !== undefined && 'value' in found ? [String(found.value)] : [];
  });
}

/** From a header to the end of its last entry. */
function tableSpan(table: TomlTable): Span {
  const ends = [...table.entries.values()].map(({ span }) => span[1]);
  return [table.span[0], Math.max(table.span[1], ...ends)];
}

function listOf(node: TomlNode): readonly string[] | null {
  if (node.kind !== 'array' || node.items.some(({ kind }) => kind !== 'string')) return null;
  return node.items.map((item) => ('value' in item ? String(item.value) : ''));
}

function plain(node: TomlNode): unknown {
  switch (node.kind) {
    case 'table':
      return Object.fromEntries(
        [...node.entries.values()]
          .map(({ key, value }) => [key, plain(value)] as const)
          .sort(([a], [b]) => (a < b ? -1 : 1)),
      );
    case 'array':
      return node.items.map(plain);
    default:
      return [node.kind, node.value];
  }
}
