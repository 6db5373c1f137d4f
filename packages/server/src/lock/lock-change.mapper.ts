import { causeWords, type ExplainedLockChange } from '@deep-ledger/core';
import type { ExplainedChangeDto } from './lock-change.dto.js';

export function toExplainedChange({
  entered,
  left,
  moved,
  requirements,
  reanswered,
  because,
}: ExplainedLockChange): ExplainedChangeDto {
  return {
    entered: [...entered],
    left: [...left],
    moved: [...moved],
    requirements: [...requirements],
    reanswered: reanswered.length,
    because: because.map(({ name, from, to, causes }) => ({
      name,
      from,
      to,
      causes: causes.map(causeWords),
    })),
  };
}
