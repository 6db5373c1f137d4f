import type { RequirementKind } from '../manifest/index.js';
import { applyEdits } from '../text/index.js';
import { isSameRange, readingOf, requireRange, type VersionScheme } from '../version/index.js';
import { ForeignEditor, type Planned, type Wanted } from './foreign-editor.js';
import {
  readForeignManifest,
  type ForeignManifest,
  type ForeignRequirement,
} from './read-foreign-manifest.js';
import type { ManifestShape } from './shape.js';

/** A text with an edit made, or why it cannot be made, in a sentence. */
export type ForeignEdit =
  | { readonly ok: true; readonly text: string }
  | { readonly ok: false; readonly message: string };

/**
 * Makes a requirement of a foreign manifest say something else: `workspace`, a range, or `shared`.
 * @param literal what `shared` stands for, where the file has no word for it
 */
export function setForeignRange(
  text: string,
  shape: ManifestShape,
  kind: RequirementKind,
  name: string,
  written: string,
  literal: string | null = null,
): ForeignEdit {
  return edited(text, shape, (editor) => editor.set(kind, name, written, literal));
}

/** Adds a requirement beside the others of its kind. */
export function addForeign(
  text: string,
  shape: ManifestShape,
  kind: RequirementKind,
  name: string,
  written: string,
  literal: string | null = null,
): ForeignEdit {
  return edited(text, shape, (editor) => editor.add(kind, name, written, literal));
}

/** Makes the value of a requirement another text, as the file writes it; where it is not there, adds it. */
export function setForeignText(
  text: string,
  shape: ManifestShape,
  kind: RequirementKind,
  name: string,
  raw: string,
): ForeignEdit {
  return edited(text, shape, (editor) => editor.setText(kind, name, raw));
}

/** Takes a requirement out, with the lines that it stands on. */
export function removeForeign(
  text: string,
  shape: ManifestShape,
  kind: RequirementKind,
  name: string,
): ForeignEdit {
  return edited(text, shape, (editor) => editor.remove(kind, name));
}

function edited(
  text: string,
  shape: ManifestShape,
  plan: (editor: ForeignEditor) => Planned,
): ForeignEdit {
  const parsed = shape.syntax.parse(text);
  if (!parsed.ok) return { ok: false, message: parsed.message };
  const { manifest } = readForeignManifest(text, shape);
  const planned = plan(new ForeignEditor(text, parsed.root, shape, manifest!));
  if ('message' in planned) return { ok: false, message: planned.message };
  const after = applyEdits(text, planned.edits);
  const told = otherwise(shape, manifest!, after, planned.wanted);
  return told === null ? { ok: true, text: after } : { ok: false, message: told };
}

/** How a text, read again, differs from what is wanted; null: it says what is wanted, and nothing else changed. */
function otherwise(
  shape: ManifestShape,
  before: ForeignManifest,
  after: string,
  [kind, name, says]: Wanted,
): string | null {
  const { manifest, problems } = readForeignManifest(after, shape);
  if (manifest === null)
    return `The file could not be read after that edit: ${problems.map((one) => ('message' in one ? one.message : one.code)).join(' ')}`;
  const left = new Map(manifest.requirements.map((one) => [keyOf(one), one]));
  const own = left.get(`${kind} ${name}`);
  left.delete(`${kind} ${name}`);
  const others = before.requirements.filter((one) => one.kind !== kind || one.name !== name);
  const isSame =
    others.length === left.size && others.every((one) => isAsBefore(one, left.get(keyOf(one))));
  if (!isSame) return 'Other requirements in the file would change with that edit.';
  if (says === null) return own === undefined ? null : `${name} would still be there.`;
  if (own === undefined) return `${name} would not be read back.`;
  const isMeant =
    'text' in says
      ? own.text === says.text
      : isSameMeaning(shape.spelling.versions, own.written, says.means);
  return isMeant ? null : `${name} would read back as "${own.text}".`;
}

function isAsBefore(before: ForeignRequirement, after: ForeignRequirement | undefined): boolean {
  return before.text === after?.text && before.when.join('\n') === after.when.join('\n');
}

function isSameMeaning(scheme: VersionScheme, a: string | null, b: string): boolean {
  if (a === b) return true;
  if (a === null || [a, b].some((one) => one === 'shared' || one === 'workspace')) return false;
  const reading = readingOf(scheme, 'named');
  return isSameRange(requireRange(a, reading), requireRange(b, reading));
}

function keyOf({ kind, name }: Pick<ForeignRequirement, 'kind' | 'name'>): string {
  return `${kind} ${name}`;
}
