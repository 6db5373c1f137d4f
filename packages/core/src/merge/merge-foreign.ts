import { applyPatch, structuredPatch } from 'diff';
import type { RequirementKind } from '../manifest/index.js';
import { foreignUnits, removeForeign, setForeignText, type ManifestShape } from '../shape/index.js';
import {
  mergeUnits,
  UNDECIDED,
  wholeOrParts,
  type ManifestMerge,
  type Settle,
  type ThreeTexts,
  type Wanted,
} from './merge-manifest.js';

/**
 * Merges a foreign manifest requirement by requirement. Everything else in it is merged by lines, once all three texts
 * have the requirements that the merge leads to; where that does not fit, the file is a conflict as a whole.
 * O(length squared) where lines differ much, as the difference of lines costs.
 */
export function mergeForeign(
  file: string,
  texts: ThreeTexts,
  shape: ManifestShape,
  settle: Settle = UNDECIDED,
): ManifestMerge {
  return wholeOrParts(file, texts, settle, () => inParts(file, texts, shape, settle));
}

function inParts(
  file: string,
  { base, ours, theirs }: ThreeTexts,
  shape: ManifestShape,
  settle: Settle,
): ManifestMerge | null {
  if (base === undefined || ours === undefined || theirs === undefined) return null;
  const [inBase, inOurs, inTheirs] = [base, ours, theirs].map((text) => foreignUnits(text, shape));
  if (!inBase || !inOurs || !inTheirs) return null;
  const { wanted, conflicts } = mergeUnits(file, inBase, inOurs, inTheirs, settle);
  if (conflicts.length > 0) return { kind: 'conflicts', conflicts };
  const [b, o, t] = [base, ours, theirs].map((text) => withUnits(text, shape, wanted));
  if (b == null || o == null || t == null) return null;
  const [first, second] = o < t ? [o, t] : [t, o];
  const text = withLines(first, b, second);
  return text !== null && says(text, shape, wanted) ? { kind: 'merged', text } : null;
}

/** A text with its requirements as they are wanted; null where it cannot be brought there. */
function withUnits(text: string, shape: ManifestShape, wanted: Wanted): string | null {
  let now = text;
  const units = foreignUnits(text, shape);
  if (units === null) return null;
  const keys = [...new Set([...units.keys(), ...wanted.keys()])].sort();
  // A requirement that moves to another kind goes before it comes: no manifest may have both.
  const [gone, stays] = [
    keys.filter((key) => !wanted.has(key)),
    keys.filter((key) => wanted.has(key)),
  ];
  for (const key of [...gone, ...stays]) {
    const source = wanted.get(key)?.source;
    if (units.get(key)?.source === source) continue;
    const [kind, name] = key.split('\n') as [RequirementKind, string];
    const edit =
      source === undefined
        ? removeForeign(now, shape, kind, name)
        : setForeignText(now, shape, kind, name, source);
    if (!edit.ok) return null;
    now = edit.text;
  }
  return now;
}

function withLines(text: string, base: string, other: string): string | null {
  if (text === base || text === other) return other;
  if (other === base) return text;
  const patch = structuredPatch('', '', base, other, '', '', { context: 2 });
  const merged = applyPatch(text, patch, { fuzzFactor: 0 });
  return merged === false ? null : merged;
}

function says(text: string, shape: ManifestShape, wanted: Wanted): boolean {
  const units = foreignUnits(text, shape);
  return (
    units?.size === wanted.size &&
    [...wanted].every(([key, { source }]) => units.get(key)?.source === source)
  );
}
