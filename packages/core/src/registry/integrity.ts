/** Of a digest in base64, by algorithm: how many characters it has, and how many of padding follow. */
const DIGESTS: ReadonlyMap<string, readonly [characters: number, padding: number]> = new Map([
  ['sha256', [43, 1]],
  ['sha384', [64, 0]],
  ['sha512', [86, 2]],
]);

/** Is a text one sum in W3C Subresource Integrity form, with a digest as long as its algorithm gives? */
export function isIntegrity(text: string): boolean {
  const parts = /^([a-z0-9]+)-([A-Za-z0-9+/]+)(=*)$/.exec(text);
  const expected = DIGESTS.get(parts?.[1] ?? '');
  if (parts === null || expected === undefined) return false;
  return parts[2]!.length === expected[0] && parts[3]!.length === expected[1];
}
