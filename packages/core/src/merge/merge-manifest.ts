import { applyPatch, structuredPatch } from 'diff';
import {
  tomlUnits,
  withUnitLines,
  withUnits,
  type ManifestUnit,
  type WantedUnit,
} from '../manifest/index.js';

/** A thing that both sides changed, each differently. */
export interface ManifestConflict {
  readonly file: string;
  /** Keys that lead to it; of an exception `exceptions`, project and package; none: the file as a whole. */
  readonly path: readonly string[];
  /** As written; null: it is not there. */
  readonly base: string | null;
  readonly ours: string | null;
  readonly theirs: string | null;
}

/** A file in three states; undefined: it is not there. */
export interface ThreeTexts {
  readonly base: string | undefined;
  readonly ours: string | undefined;
  readonly theirs: string | undefined;
}

export type ManifestMerge =
  | { readonly kind: 'merged'; readonly text: string | undefined }
  | { readonly kind: 'conflicts'; readonly conflicts: readonly ManifestConflict[] };

/** Which state stands where both sides changed one thing; null: nobody has decided. */
export type Settle = (conflict: ManifestConflict) => keyof ThreeTexts | null;

export const UNDECIDED: Settle = () => null;

type Units = ReadonlyMap<string, ManifestUnit>;

/**
 * Merges a hand-written file requirement by requirement, shared version by shared version. Of lists of
 * texts each text is merged by itself. Comments and layout come along as far as the lines of one side can be put into
 * those of the other; which of the two that is depends on the texts, not on which is ours.
 * Conflicts that `settle` decides are none; a file that cannot be merged by its units is decided as a whole.
 * O(length squared) where lines differ much, as the difference of lines costs.
 */
export function mergeManifest(
  file: string,
  texts: ThreeTexts,
  settle: Settle = UNDECIDED,
): ManifestMerge {
  return wholeOrParts(file, texts, settle, () => mergeByUnits(file, texts, settle));
}

/**
 * The rule for files of any kind: a side that changed nothing gives way, and a file that cannot be merged in parts is
 * decided as a whole.
 * @param inParts the merge of its parts; null: they do not fit together
 */
export function wholeOrParts(
  file: string,
  texts: ThreeTexts,
  settle: Settle,
  inParts: () => ManifestMerge | null,
): ManifestMerge {
  const { base, ours, theirs } = texts;
  if (ours === theirs || theirs === base) return { kind: 'merged', text: ours };
  if (ours === base) return { kind: 'merged', text: theirs };
  const merged = inParts();
  if (merged !== null) return merged;
  const whole: ManifestConflict = {
    file,
    path: [],
    base: base ?? null,
    ours: ours ?? null,
    theirs: theirs ?? null,
  };
  const side = settle(whole);
  return side === null
    ? { kind: 'conflicts', conflicts: [whole] }
    : { kind: 'merged', text: texts[side] };
}

function mergeByUnits(
  file: string,
  { base, ours, theirs }: ThreeTexts,
  settle: Settle,
): ManifestMerge | null {
  if (ours === undefined || theirs === undefined) return null;
  const three = [base ?? '', ours, theirs].map(tomlUnits) as [
    Units | null,
    Units | null,
    Units | null,
  ];
  if (three.includes(null)) return null;
  const [inBase, inOurs, inTheirs] = three as [Units, Units, Units];
  const { wanted, conflicts, taken } = mergeUnits(file, inBase, inOurs, inTheirs, settle);
  if (conflicts.length > 0) return { kind: 'conflicts', conflicts };
  const agreed = withTakenLines({ base: base ?? '', ours, theirs }, taken);
  const [first, second] =
    agreed.ours < agreed.theirs ? [agreed.ours, agreed.theirs] : [agreed.theirs, agreed.ours];
  const text = brought(first, agreed.base, second, wanted) ?? brought(first, null, '', wanted);
  return text === null ? null : { kind: 'merged', text };
}

type Texts = Readonly<Record<keyof ThreeTexts, string>>;

/** The three texts; decided units have the lines of the side that was decided for, comments included. */
function withTakenLines(texts: Texts, taken: ReadonlyMap<string, keyof ThreeTexts>): Texts {
  const all: Record<keyof ThreeTexts, string> = { ...texts };
  for (const [key, side] of taken)
    for (const other of ['base', 'ours', 'theirs'] as const)
      all[other] = withUnitLines(all[other], texts[side], key) ?? all[other];
  return all;
}

export type Wanted = ReadonlyMap<string, WantedUnit>;

export function mergeUnits(
  file: string,
  base: Units,
  ours: Units,
  theirs: Units,
  settle: Settle,
): {
  readonly wanted: Wanted;
  readonly conflicts: readonly ManifestConflict[];
  /** What was decided, with the side that it was decided for. */
  readonly taken: ReadonlyMap<string, keyof ThreeTexts>;
} {
  const taken = new Map<string, keyof ThreeTexts>();
  const wanted = new Map<string, WantedUnit>();
  const conflicts: ManifestConflict[] = [];
  for (const key of [...new Set([...ours.keys(), ...theirs.keys()])].sort()) {
    const [b, o, t] = [base.get(key), ours.get(key), theirs.get(key)];
    const list = mergedList(b, o, t);
    if (list !== null) wanted.set(key, list);
    else if (o?.value === t?.value) want(wanted, key, sooner(o, t));
    else if (o?.value === b?.value) want(wanted, key, t);
    else if (t?.value === b?.value) want(wanted, key, o);
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
      else {
        taken.set(key, side);
        want(wanted, key, { base: b, ours: o, theirs: t }[side]);
      }
    }
  }
  return { wanted, conflicts, taken };
}

/** Of two spellings of the same the one that sorts first. */
function sooner(
  a: ManifestUnit | undefined,
  b: ManifestUnit | undefined,
): ManifestUnit | undefined {
  return a === undefined || b === undefined || a.source < b.source ? a : b;
}

function want(wanted: Map<string, WantedUnit>, key: string, unit: ManifestUnit | undefined): void {
  if (unit === undefined) return;
  const { path, value, source, isBlock } = unit;
  wanted.set(key, { path, value, source, isBlock });
}

function mergedList(
  base: ManifestUnit | undefined,
  ours: ManifestUnit | undefined,
  theirs: ManifestUnit | undefined,
): WantedUnit | null {
  if (!ours?.list || !theirs?.list || ours.value === theirs.value) return null;
  const before = base?.list ?? [];
  if (base?.value === ours.value || base?.value === theirs.value) return null;
  const isKept = (text: string): boolean =>
    before.includes(text)
      ? ours.list!.includes(text) && theirs.list!.includes(text)
      : ours.list!.includes(text) || theirs.list!.includes(text);
  const added = [...new Set([...ours.list, ...theirs.list])].filter((one) => !before.includes(one));
  const list = [...before, ...added.sort()].filter(isKept);
  const source = `[${list.map((text) => JSON.stringify(text)).join(', ')}]`;
  const value = JSON.stringify(list.map((text) => ['string', text]));
  return { path: ours.path, value, source, isBlock: false };
}

/**
 * Puts the changed lines from base to the second text into the first where they fit, then sets each unit that is not as
 * wanted. Null where that does not lead there.
 */
function brought(
  first: string,
  base: string | null,
  second: string,
  wanted: Wanted,
): string | null {
  const text = withUnits(base === null ? first : withLines(first, base, second), wanted);
  return text !== null && says(text, wanted) ? text : null;
}

function says(text: string, wanted: Wanted): boolean {
  const units = tomlUnits(text);
  return (
    units !== null &&
    units.size === wanted.size &&
    [...wanted].every(([key, { value }]) => units.get(key)?.value === value)
  );
}

/** The changes from base to another text, put into a third hunk by hunk where their surroundings are there. */
function withLines(text: string, base: string, other: string): string {
  const patch = structuredPatch('', '', base, other, '', '', { context: 2 });
  const whole = applyPatch(text, patch, { fuzzFactor: 0 });
  if (whole !== false && tomlUnits(whole) !== null) return whole;
  let merged = text;
  for (const hunk of patch.hunks) {
    const applied = applyPatch(merged, { ...patch, hunks: [hunk] }, { fuzzFactor: 0 });
    merged =
      applied !== false && tomlUnits(applied) !== null ? applied : withComments(merged, hunk.lines);
  }
  return merged;
}

/** The comments that a hunk adds, before the line that follows them in the hunk, else at the end. */
function withComments(text: string, hunk: readonly string[]): string {
  const lines = text.split('\n');
  const first = hunk.findIndex((line) => /^\+\s*#/.test(line));
  if (first < 0) return text;
  const comments = hunk
    .filter((line) => /^\+\s*#/.test(line))
    .map((line) => line.slice(1))
    .filter((line) => !lines.includes(line));
  const anchor = hunk
    .slice(first)
    .find((line) => line.startsWith(' '))
    ?.slice(1);
  const found = anchor === undefined ? -1 : lines.indexOf(anchor);
  const at = found >= 0 ? found : lines.at(-1) === '' ? lines.length - 1 : lines.length;
  return [...lines.slice(0, at), ...comments, ...lines.slice(at)].join('\n');
}
