import { applyPatch, structuredPatch } from 'diff';
import type { RequirementKind, ManifestUnit } from '../manifest/index.js';
import { foreignUnits, removeForeign, setForeignText, type ManifestShape } from '../shape/index.js';
import type { ManifestConflict, ManifestMerge, Settle, ThreeTexts } from './merge-manifest.js';

type Units = ReadonlyMap<string, ManifestUnit>;
/** By unit: the text that it is to have. What is not here is to be gone. */
type Wanted = ReadonlyMap<string, string>;

const UNDECIDED: Settle = () => null;

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
  const { base, ours, theirs } = texts;
  if (ours === theirs || theirs === base) return { kind: 'merged', text: ours };
  if (ours === base) return { kind: 'merged', text: theirs };
  const whole: ManifestConflict = {
    file,
    path: [],
    base: base ?? null,
    ours: ours ?? null,
    theirs: theirs ?? null,
  };
  const asWhole = (): ManifestMerge => {
    const side = settle(whole);
    return side === null
      ? { kind: 'conflicts', conflicts: [whole] }
      : { kind: 'merged', text: texts[side] };
  };
  if (base === undefined || ours === undefined || theirs === undefined) return asWhole();
  const [inBase, inOurs, inTheirs] = [base, ours, theirs].map((text) => foreignUnits(text, shape));
  if (!inBase || !inOurs || !inTheirs) return asWhole();
  const { wanted, conflicts } = mergeUnits(file, inBase, inOurs, inTheirs, settle);
  if (conflicts.length > 0) return { kind: 'conflicts', conflicts };
  const [b, o, t] = [base, ours, theirs].map((text) => withUnits(text, shape, wanted));
  if (b == null || o == null || t == null) return asWhole();
  const [first, second] = o < t ? [o, t] : [t, o];
  const text = withLines(first, b, second);
  return text !== null && says(text, shape, wanted) ? { kind: 'merged', text } : asWhole();
}

function mergeUnits(
  file: string,
  base: Units,
  ours: Units,
  theirs: Units,
  settle: Settle,
): { readonly wanted: Wanted; readonly conflicts: readonly ManifestConflict[] } {
  const wanted = new Map<string, string>();
  const conflicts: ManifestConflict[] = [];
  for (const key of [...new Set([...base.keys(), ...ours.keys(), ...theirs.keys()])].sort()) {
    const [b, o, t] = [base.get(key), ours.get(key), theirs.get(key)];
    let unit: ManifestUnit | undefined;
    if (o?.value === t?.value || t?.value === b?.value) unit = o;
    else if (o?.value === b?.value) unit = t;
    else {
      const conflict: ManifestConflict = {
        file,
        path: (o ?? t)!.path,
        base: b?.source ?? null,
        ours: o?.source ?? null,
        theirs: t?.source ?? null,
      };
      const side = settle(conflict);
      if (side === null) conflicts.push(conflict);
      else unit = { base: b, ours: o, theirs: t }[side];
    }
    if (unit !== undefined) wanted.set(key, unit.source);
  }
  return { wanted, conflicts };
}

/** A text with its requirements as they are wanted; null where it cannot be brought there. */
function withUnits(text: string, shape: ManifestShape, wanted: Wanted): string | null {
  let now = text;
  const units = foreignUnits(text, shape);
  if (units === null) return null;
  for (const key of [...new Set([...units.keys(), ...wanted.keys()])].sort()) {
    const source = wanted.get(key);
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
    [...wanted].every(([key, source]) => units.get(key)?.source === source)
  );
}
