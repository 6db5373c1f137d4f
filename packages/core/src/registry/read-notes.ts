/** More is cut, so that nobody has to wait for it. */
const LONGEST_NOTES = 20_000;

/** What a release says of itself, in Markdown. */
export interface ReleaseNotes {
  readonly text: string;
  readonly isCut: boolean;
}

/** The notes of a release in a registry's document of its package; null: it has none. O(releases). */
export function readNotes(document: unknown, version: string): ReleaseNotes | null {
  const releases = (document as { readonly releases?: unknown } | null)?.releases;
  if (!Array.isArray(releases)) return null;
  const release = (releases as readonly unknown[]).find(
    (one): one is { readonly notes?: unknown } =>
      typeof one === 'object' &&
      one !== null &&
      (one as { readonly version?: unknown }).version === version,
  );
  const notes = release?.notes;
  if (typeof notes !== 'string' || notes.trim() === '') return null;
  return { text: notes.slice(0, LONGEST_NOTES), isCut: notes.length > LONGEST_NOTES };
}
