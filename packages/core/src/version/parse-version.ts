import { fail, scanPartial, type Scan } from './scan-version.js';
import { versionProblemMessage } from './version-problem.js';
import { releaseOf, type Version } from './version.js';
import type { VersionScheme } from './version-scheme.js';

/** Reads a whole version of a scheme; nothing may stand before or after it. O(length). */
export function parseVersion(text: string, scheme: VersionScheme = 'semver'): Scan<Version> {
  const scan = scanPartial(text, 0, scheme);
  if (!scan.ok) return scan;
  const { numbers, openAt, prerelease, build, end } = scan.value;
  if (openAt !== null) {
    return fail({ code: 'VERSION_INCOMPLETE', found: text, span: [0, text.length] });
  }
  if (end < text.length) {
    return fail({ code: 'UNEXPECTED_TEXT', found: text.slice(end), span: [end, text.length] });
  }
  return { ok: true, value: { ...releaseOf(numbers), prerelease, build } };
}

/**
 * Reads a version of any scheme: what SemVer reads is the same version in dotted.
 * @throws RangeError with the problem in words, for texts that a program wrote.
 */
export function requireVersion(text: string): Version {
  const parsed = parseVersion(text, 'dotted');
  if (parsed.ok) return parsed.value;
  throw new RangeError(`"${text}": ${versionProblemMessage(parsed.problem)}`);
}
