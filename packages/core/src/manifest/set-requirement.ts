import type { TextEdit } from '../text/index.js';
import { nodeAt, planSetString } from './edit-toml.js';
import { needsPath, type RequirementKind } from './project-manifest.js';
import { parseToml } from './toml-document.js';

/**
 * Plans the change of what one requirement of `ledger.project.toml` says. Nothing is planned when
 * it says so already.
 * @returns null if the text cannot be read or has no such requirement
 */
export function planSetRequirement(
  text: string,
  kind: RequirementKind,
  name: string,
  written: string,
): readonly TextEdit[] | null {
  const parsed = parseToml(text);
  if (!parsed.ok) return null;
  const value = nodeAt(parsed.root, [...needsPath(kind), name]);
  const node = value?.kind === 'table' ? (value.entries.get('range')?.value ?? null) : value;
  if (node?.kind !== 'string') return null;
  return node.value === written ? [] : [planSetString(text, node.span, written)];
}
