import type { TextEdit } from '../text/index.js';
import { nodeAt, planAddEntry, planSetString, printString } from './edit-toml.js';
import type { TreePlan } from './plan.js';
import { planRemoveEntry } from './remove-entry.js';
import { planSetList } from './set-list.js';

/** What one key of a manifest is to say. */
export type TomlValue = string | number | readonly string[];

export function printValue(value: TomlValue): string {
  return Array.isArray(value)
    ? `[${value.map(printString).join(', ')}]`
    : typeof value === 'string'
      ? printString(value)
      : String(value);
}

/** Makes the key at a path say a value, in place where it is there, in its sorted place where it is not. */
export function setValue(path: readonly string[], value: TomlValue): TreePlan {
  return (text, root): readonly TextEdit[] | null => {
    const node = nodeAt(root, path);
    if (node === null)
      return [planAddEntry(text, root, path.slice(0, -1), path.at(-1)!, printValue(value))];
    if (Array.isArray(value))
      return node.kind === 'array' ? planSetList(text, node, value as readonly string[]) : null;
    if (node.kind === 'string' && typeof value === 'string')
      return node.value === value ? [] : [planSetString(text, node.span, value)];
    if (node.kind === 'table' || node.kind === 'array') return null;
    const [start, end] = node.span;
    return [{ offset: start, length: end - start, text: printValue(value) }];
  };
}

/** Takes a key out of its table; nothing where it is not there. */
export function dropKey(path: readonly string[]): TreePlan {
  return (text, root) => planRemoveEntry(text, root, path) ?? [];
}
