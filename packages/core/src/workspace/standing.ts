import { type ExceptionLine, rangeFor } from '../manifest/index.js';
import { isSameRange } from '../version/index.js';
import type { Requirement, Workspace } from './workspace.js';

/**
 * How a requirement stands to what the workspace agreed on: it takes the shared version, equals it,
 * differs by a valid exception, differs without one, or nothing is agreed.
 */
export type Standing =
  | { readonly kind: 'takes' | 'equals' | 'off' | 'nothing-agreed' }
  | { readonly kind: 'excepted'; readonly exception: ExceptionLine };

/** @param today YYYY-MM-DD; an exception holds through its last day */
export function standingOf(
  workspace: Workspace,
  requirement: Requirement,
  today: string,
): Standing {
  const agreement = workspace.agreements.get(requirement.name);
  if (agreement === undefined || requirement.meaning.kind === 'project')
    return { kind: 'nothing-agreed' };
  if (requirement.written === 'shared') return { kind: 'takes' };
  if (isSameRange(requirement.meaning.range, agreement.range)) return { kind: 'equals' };
  const exception = exceptionFor(workspace, requirement, today);
  return exception === null ? { kind: 'off' } : { kind: 'excepted', exception };
}

function exceptionFor(
  workspace: Workspace,
  requirement: Requirement,
  today: string,
): ExceptionLine | null {
  const { meaning } = requirement;
  const lines = workspace.exceptions.filter(
    ({ package: name, range, until }) =>
      name === requirement.name &&
      today <= until &&
      meaning.kind === 'range' &&
      isSameRange(meaning.range, rangeFor(workspace.policy, name, range)),
  );
  if (lines.length === 0) return null;
  const project = workspace.projects.find(({ folder }) => folder === requirement.project);
  return (
    lines.find((line) => line.project === project?.name || line.project === requirement.project) ??
    null
  );
}
