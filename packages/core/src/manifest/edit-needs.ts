import type { TextEdit } from '../text/index.js';
import { nodeAt, planAddEntry } from './edit-toml.js';
import type { TreePlan } from './plan.js';
import { needsPath, type RequirementKind } from './project-manifest.js';
import { planRemoveEntry } from './remove-entry.js';
import { dropKey, setValue } from './set-value.js';

/** Adds a requirement; what it says is `shared`, `workspace` or a range. */
export function addRequirement(kind: RequirementKind, name: string, written: string): TreePlan {
  return (text, root) => [planAddEntry(text, root, needsPath(kind), name, JSON.stringify(written))];
}

export function dropRequirement(kind: RequirementKind, name: string): TreePlan {
  return dropKey([...needsPath(kind), name]);
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
    if (entry.value.kind === 'table' && entry.value.origin !== 'inline') return null;
    const lineEnd = text.slice(entry.span[1]).split(/\r?\n/, 1)[0]!;
    const comment = table.origin !== 'inline' && /^\s*#/.test(lineEnd) ? lineEnd : '';
    value = text.slice(...entry.value.span) + comment;
    return [removal];
  };
  const put: TreePlan = (text, root) =>
    value === null ? null : [planAddEntry(text, root, needsPath(to), name, value)];
  return [take, put];
}

/** Writes under [use] that a package is used where no scan can see it. */
export function believeUse(name: string, believed: readonly string[]): TreePlan {
  return setValue(['use', 'implicit'], [...new Set([...believed, name])]);
}
