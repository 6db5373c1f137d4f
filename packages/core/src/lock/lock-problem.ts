import type { Span } from '../text/index.js';

/** Why a lockfile cannot be read. */
export type LockProblem = { readonly span: Span } & (
  | { readonly code: 'LOCK_HEADER' }
  | { readonly code: 'LOCK_BYTE_ORDER_MARK' }
  | { readonly code: 'LOCK_FORMAT'; readonly found: string }
  | { readonly code: 'LOCK_LINE'; readonly found: string; readonly expected: string }
  | { readonly code: 'LOCK_VALUE'; readonly what: string; readonly found: string }
  | { readonly code: 'LOCK_TWICE'; readonly what: string }
  | { readonly code: 'LOCK_INCOMPLETE'; readonly what: string; readonly missing: string }
);

export function lockProblemMessage(problem: LockProblem): string {
  switch (problem.code) {
    case 'LOCK_HEADER':
      return 'This is no lockfile of this tool: it must begin with the lines "deep-ledger lockfile" and "format 2". Restore the file from git, or replace it with `deep-ledger lock --from-nothing`.';
    case 'LOCK_BYTE_ORDER_MARK':
      return 'The file begins with a byte order mark, which a lockfile does not have. Save it as UTF-8 without one.';
    case 'LOCK_FORMAT':
      return `The lockfile has format ${problem.found}; this version of the tool reads formats up to 2. Update the tool.`;
    case 'LOCK_LINE':
      return `"${problem.found}" does not belong here; expected is ${problem.expected}. Restore the file from git, or let \`deep-ledger lock\` write it again; it keeps every block that can be read.`;
    case 'LOCK_VALUE':
      return `"${problem.found}" is no ${problem.what}. Restore the file from git, or let \`deep-ledger lock\` write it again; it keeps every block that can be read.`;
    case 'LOCK_TWICE':
      return `${problem.what} is there twice. Remove one of the two, or let \`deep-ledger lock\` write the file again.`;
    case 'LOCK_INCOMPLETE':
      return `${problem.what} has no line "${problem.missing}". Restore the file from git, or let \`deep-ledger lock\` write it again; it keeps every block that can be read.`;
  }
}
