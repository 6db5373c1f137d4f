import type { TextEdit } from '../text/index.js';
import { nodeAt, planAddEntry, printKey, printString } from './edit-toml.js';
import type { TreePlan } from './plan.js';
import { needsPath, type RequirementKind } from './project-manifest.js';
import { planRemoveEntry, planRemoveIfEmpty } from './remove-entry.js';
import { dropKey, setValue } from './set-value.js';
import type { TomlNode, TomlTable } from './toml-document.js';
import { lineEnd } from './toml-lines.js';

/** Adds a requirement; what it says is `shared`, `workspace` or a range. */
export function addRequirement(kind: RequirementKind, name: string, written: string): TreePlan {
  return (text, root) => [planAddEntry(text, root, needsPath(kind), name, printString(written))];
}

/** Takes a requirement away; the table of a kind that is empty then goes with it. */
export function dropRequirement(kind: RequirementKind, name: string): readonly TreePlan[] {
  return [dropKey([...needsPath(kind), name]), ...withoutEmpty(kind)];
}

function withoutEmpty(kind: RequirementKind): readonly TreePlan[] {
  return kind === 'runtime' ? [] : [(text, root) => planRemoveIfEmpty(text, root, needsPath(kind))];
}

/** Moves a requirement to another kind as it is written, with the comment at its line's end. */
export function moveRequirement(
  from: RequirementKind,
  to: RequirementKind,
  name: string,
): readonly TreePlan[] {
  let value: string | null = null;
  const take: TreePlan = (text, root): readonly TextEdit[] | null => {
    const path = [...needsPath(from), name];
    const table = nodeAt(root, path.slice(0, -1));
    const entry = table?.kind === 'table' ? table.entries.get(name) : undefined;
    const removal = planRemoveEntry(text, root, path);
    if (table?.kind !== 'table' || entry === undefined || removal === null) return null;
    value = valueText(text, entry.value);
    const isAlone = table.origin === 'header' || table.origin === 'implied';
    const rest = text.slice(entry.span[1], lineEnd(text, entry.span[1]));
    const isLine = entry.value.kind !== 'table' || entry.value.origin === 'inline';
    if (isAlone && isLine && /^[ \t]*#/.test(rest)) value += rest;
    return removal;
  };
  const put: TreePlan = (text, root) => {
    if (value === null) return null;
    const table = nodeAt(root, needsPath(to));
    // Between braces a comment would end the line.
    const isOpen = table === null || (table.kind === 'table' && isLines(table));
    const parent = nodeAt(root, ['needs']);
    const isParentOpen = parent === null || (parent.kind === 'table' && isLines(parent));
    const written = isOpen && isParentOpen ? value : value.replace(/[ \t]*#[^"'\n]*$/, '');
    return [planAddEntry(text, root, needsPath(to), name, written)];
  };
  return [take, put, ...withoutEmpty(from)];
}

function isLines({ origin, braces }: TomlTable): boolean {
  return origin !== 'inline' && braces === null;
}

/** A value as it is written; a table that has lines of its own as one between braces. */
function valueText(text: string, node: TomlNode): string {
  if (node.kind !== 'table' || node.origin === 'inline') return text.slice(...node.span);
  const pairs = [...node.entries.values()].map(
    ({ key, value }) => `${printKey(key)} = ${onOneLine(text, value)}`,
  );
  return `{ ${pairs.join(', ')} }`;
}

function onOneLine(text: string, node: TomlNode): string {
  if (node.kind === 'array')
    return `[${node.items.map((item) => onOneLine(text, item)).join(', ')}]`;
  if (node.kind === 'string') return printString(String(node.value));
  return valueText(text, node);
}

/** Writes under [use] that a package is used where no scan can see it. */
export function believeUse(name: string, believed: readonly string[]): TreePlan {
  return setValue(['use', 'implicit'], [...new Set([...believed, name])]);
}
