import { LOCK_FILE } from '../workspace/index.js';
import { remedy, type Finding, type FindingRule, findingOf } from './finding.js';
import type { Stand } from './grounds.js';

const RULE: Omit<FindingRule, 'raise'> = { kind: 'unreadable', severity: 'error' };

/** A manifest or lockfile that cannot be read: with its line and column, and what was expected. */
export function unreadable({ problems, lock }: Stand): readonly Finding[] {
  const inManifests = problems
    .filter(({ isBlocking }) => isBlocking)
    .map((one) => ({ ...one, remedies: [] }));
  const inLock = (lock?.state === 'broken' ? lock.reasons : []).map((one) => ({
    ...one,
    remedies: [remedy('replace the lockfile', { kind: 'bring-up' as const })],
  }));
  return [...inManifests, ...inLock].map(({ code, message, place, remedies }) =>
    findingOf(
      { ...RULE, raise: () => [] },
      {
        mark:
          place.file === LOCK_FILE ? [place.file, code] : [place.file, code, String(place.line)],
        says: `${place.file}:${place.line}:${place.column}: ${message.replace(/\.$/, '')}`,
        evidence: [{ kind: 'place', says: 'where', place }],
        remedies,
      },
    ),
  );
}
