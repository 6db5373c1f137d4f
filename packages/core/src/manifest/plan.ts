import { applyEdits, type TextEdit } from '../text/index.js';
import { parseToml, type TomlTable } from './toml-document.js';

/** Works out edits of a text from its tree; null where the text has a form that it cannot edit. */
export type TreePlan = (text: string, root: TomlTable) => readonly TextEdit[] | null;

/**
 * The text with plans carried out one after another, each on what the ones before it left.
 * @returns null if the text is no TOML, a plan cannot be made, or what comes of it is no TOML
 */
export function carryOut(text: string, ...plans: readonly TreePlan[]): string | null {
  let now = text;
  for (const plan of plans) {
    const parsed = parseToml(now);
    const edits = parsed.ok ? plan(now, parsed.root) : null;
    if (edits === null) return null;
    now = applyEdits(now, edits);
  }
  return parseToml(now).ok ? now : null;
}
