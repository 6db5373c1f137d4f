import {
  isName,
  NAME_WORDS,
  parseRange,
  parseVersion,
  scheduleProblem,
  versionProblemMessage,
} from '@deep-ledger/core';
import type { Check } from './form';

/**
 * Why a text cannot be what a field asks for; null: it can. An empty text is not complained of. How a package's registry
 * writes versions is known to the server, which has the last word.
 */
export function checkText(check: Check | undefined, text: string): string | null {
  const trimmed = text.trim();
  if (check === undefined || trimmed === '') return null;
  switch (check) {
    case 'package':
      return isName(trimmed) ? null : NAME_WORDS;
    case 'version': {
      const parsed = parseVersion(trimmed);
      return parsed.ok || parseVersion(trimmed, 'dotted').ok
        ? null
        : `This is not one version: ${versionProblemMessage(parsed.problem)}.`;
    }
    case 'requirement-range':
      return trimmed === 'shared' || trimmed === 'workspace' ? null : rangeProblem(trimmed);
    case 'schedule':
      return scheduleProblem(trimmed);
    case 'days':
      return /^\d{1,4}$/.test(trimmed) ? null : 'A whole number of days, up to 9999.';
    case 'range':
      return rangeProblem(trimmed);
  }
}

function rangeProblem(text: string): string | null {
  const parsed = parseRange(text, 'always');
  return parsed.ok || parseRange(text, 'dotted always').ok
    ? null
    : `Not a range, from letter ${parsed.problem.span[0] + 1} on: ${versionProblemMessage(parsed.problem)}.`;
}
