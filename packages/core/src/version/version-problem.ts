import type { Span } from '../text/index.js';

/** What can be wrong with a version or a range. Spans are offsets in the text that was read. */
export type VersionProblem = { readonly span: Span } & (
  | { readonly code: 'VERSION_EXPECTED'; readonly found: string }
  | { readonly code: 'VERSION_INCOMPLETE'; readonly found: string }
  | { readonly code: 'VERSION_LEADING_V' }
  | { readonly code: 'LEADING_ZERO'; readonly found: string }
  | { readonly code: 'NUMBER_TOO_LARGE'; readonly found: string }
  | { readonly code: 'IDENTIFIER_EMPTY'; readonly part: 'prerelease' | 'build' }
  | { readonly code: 'UNEXPECTED_TEXT'; readonly found: string }
  | { readonly code: 'RANGE_BLANK' }
  | { readonly code: 'RANGE_LONG'; readonly length: number; readonly most: number }
  | { readonly code: 'ALTERNATIVE_BLANK' }
  | { readonly code: 'OPERATOR_UNKNOWN'; readonly found: string; readonly meant: string | null }
  | { readonly code: 'OPERATOR_ON_ANY'; readonly operator: string }
  | { readonly code: 'NUMBER_AFTER_ANY'; readonly found: string }
  | { readonly code: 'PRERELEASE_ON_PART'; readonly found: string }
  | { readonly code: 'HYPHEN_BOUND'; readonly found: string }
  | { readonly code: 'COMMA'; readonly found: string }
  | { readonly code: 'SPACE_UNUSUAL'; readonly found: string }
  | { readonly code: 'RANGE_EMPTY'; readonly found: string }
  | { readonly code: 'VERS_SCHEME'; readonly found: string; readonly meant: string }
  | { readonly code: 'VERS_ESCAPE'; readonly found: string }
  | { readonly code: 'VERS_ORDER'; readonly found: string }
  | { readonly code: 'VERS_TWICE'; readonly found: string }
);

/** The problem in words: what is wrong, and what to write instead. */
export function versionProblemMessage(problem: VersionProblem): string {
  switch (problem.code) {
    case 'VERSION_EXPECTED':
      return problem.found === ''
        ? 'a version is missing here; write one such as 1.4.2'
        : `"${problem.found}" is no version; write numbers such as 1.4.2 (tags and names are not ranges)`;
    case 'VERSION_INCOMPLETE':
      return `"${problem.found}" is not a whole version; write major.minor.patch such as 1.4.2`;
    case 'VERSION_LEADING_V':
      return 'a version has no leading "v"; write the numbers alone';
    case 'LEADING_ZERO':
      return `"${problem.found}" has a leading zero; SemVer numbers have none`;
    case 'NUMBER_TOO_LARGE':
      return `"${problem.found}" is too large; numbers go up to ${Number.MAX_SAFE_INTEGER - 1}`;
    case 'IDENTIFIER_EMPTY':
      return `an identifier of the ${problem.part} is empty; between dots stand letters, digits or hyphens`;
    case 'UNEXPECTED_TEXT':
      return `"${problem.found}" does not belong here; separate bounds by a space, alternatives by "||"`;
    case 'RANGE_BLANK':
      return 'the range is empty; write "*" to allow every release';
    case 'RANGE_LONG':
      return `the range has ${problem.length} characters; at most ${problem.most} are read. Write it shorter`;
    case 'ALTERNATIVE_BLANK':
      return 'nothing stands on one side of "||"; write a range there or remove the "||"';
    case 'OPERATOR_UNKNOWN':
      return problem.meant === null
        ? `"${problem.found}" is no operator; known are ^ ~ = > >= < <=`
        : `"${problem.found}" is no operator; write "${problem.meant}"`;
    case 'OPERATOR_ON_ANY':
      return `"${problem.operator}" needs a number after it; write "*" alone to allow every release`;
    case 'NUMBER_AFTER_ANY':
      return `"${problem.found}" stands after a part that allows anything; once a part is "x" or "*", so are those after it`;
    case 'PRERELEASE_ON_PART':
      return `"${problem.found}" has a prerelease or build but not all three numbers; write major.minor.patch before it`;
    case 'HYPHEN_BOUND':
      return `"${problem.found}" cannot be an end of a hyphen range; write it as 1.2.3 - 2.0.0, versions only`;
    case 'COMMA':
      return 'bounds are joined by a space, not by a comma; write ">=1.2.0 <2.0.0"';
    case 'SPACE_UNUSUAL': {
      const code = problem.found.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0');
      return `the character U+${code} stands where a space belongs; type an ordinary space`;
    }
    case 'RANGE_EMPTY':
      return `"${problem.found}" allows no version: its bounds exclude each other`;
    case 'VERS_SCHEME':
      return `"${problem.found}" is not read here; write ${problem.meant} followed by the constraints`;
    case 'VERS_ESCAPE':
      return `"${problem.found}" is no percent-encoding; write % followed by two hexadecimal digits`;
    case 'VERS_ORDER':
      return `the constraint "${problem.found}" does not follow from the one before it; bounds go up and lower and upper ones alternate`;
    case 'VERS_TWICE':
      return `the version of "${problem.found}" stands twice; each version may be named once`;
  }
}
