/** The characters of a part of a name, between `/`; a part is neither `.` nor `..`. */
const PART = String.raw`(?!\.{1,2}(?:\/|$))[\p{L}\p{Nd}._~+:@-][\p{L}\p{M}\p{Nd}._~+:@-]*`;

/**
 * A name of a workspace, project or package: 1 to 214 letters and digits of any script and `. _ - ~ + / : @`. It does
 * not begin with `-`, and no part between `/` is empty, `.` or `..`.
 */
export const NAME = new RegExp(String.raw`^(?=.{1,214}$)(?!-)${PART}(?:\/${PART})*$`, 'u');

/** Most names. To learn which letters all scripts have takes milliseconds, so it is put off until a name needs it. */
const PLAIN_NAME = /^[A-Za-z\d][\w.-]{0,213}$/;

/** What `NAME` says, for people. */
export const NAME_WORDS =
  'A name has 1 to 214 letters and digits of any script and . _ - ~ + / : @, does not begin with a hyphen, and has no part between slashes that is empty, "." or "..".';

/** Composed as Unicode's form NFC has it, in which names are compared. */
export function composed(text: string): string {
  return text.normalize('NFC');
}

/** Is it a name, composed or not? As `NAME` says, and faster. */
export function isNameInAnyForm(text: string): boolean {
  return PLAIN_NAME.test(text) || NAME.test(text);
}

/** Is it a name in the form in which names are compared? */
export function isName(text: string): boolean {
  return isNameInAnyForm(text) && composed(text) === text;
}

/**
 * The package URL (purl) of a release of a generic package: what stands before the last `/` of the name is the namespace.
 * Source: the package URL specification, ECMA-427.
 */
export function packageUrl(name: string, version: string): string {
  return `pkg:generic/${name.split('/').map(percentEncoded).join('/')}@${percentEncoded(version)}`;
}

/** Every character but letters, digits and `. - _ ~ :` of ASCII. */
function percentEncoded(text: string): string {
  return encodeURIComponent(text)
    .replace(/[!'()*]/g, (one) => `%${one.charCodeAt(0).toString(16).toUpperCase()}`)
    .replaceAll('%3A', ':');
}
