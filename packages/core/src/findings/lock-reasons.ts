import type { LockReason } from '../lock/index.js';
import { remedy, type FindingDraft } from './finding.js';
import type { Grounds } from './grounds.js';

/** The reasons of some codes for which the lockfile is stale, as findings that re-resolving clears. */
export function staleFindings(
  { stand }: Grounds,
  codes: readonly LockReason['code'][],
): readonly FindingDraft[] {
  return (stand.lock?.state === 'stale' ? stand.lock.reasons : [])
    .filter(({ code }) => codes.includes(code))
    .map(({ code, about, message, place }) => ({
      mark: [code, ...about],
      says: message.replace(/\.$/, ''),
      evidence: [{ kind: 'place', says: 'where', place }],
      // Nothing that the lockfile has needs to move for it.
      remedies: [remedy('bring the lockfile up', { kind: 'bring-up' })],
    }));
}
