import { fail, scanPartial, type Scan } from './scan-version.js';
import { versionProblemMessage } from './version-problem.js';
import type { Version } from './version.js';

/** Reads a whole SemVer 2.0.0 version; nothing may stand before or after it. O(length). */
export function parseVersion(text: string): Scan<Version> {
  const scan = scanPartial(text, 0);
  if (!scan.ok) return scan;
  const { major, minor, patch, prerelease, build, end } = scan.value;
  if (major === null || minor === null || patch === null) {
    return fail({ code: 'VERSION_INCOMPLETE', found: text, span: [0, text.length] });
  }
  if (end < text.length) {
    return fail({ code: 'UNEXPECTED_TEXT', found: text.slice(end), span: [end, text.length] });
  }
  return { ok: true, value: { major, minor, patch, prerelease, build } };
}

/** @throws RangeError with the problem in words, for texts that a program wrote. */
export function requireVersion(text: string): Version {
  const parsed = parseVersion(text);
  if (parsed.ok) return parsed.value;
  throw new RangeError(`"${text}": ${versionProblemMessage(parsed.problem)}`);
}
