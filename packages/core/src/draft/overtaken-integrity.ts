import type { Edit, EditProblem } from '../edit/index.js';
import { disputedCopies } from '../resolve/index.js';
import type { DraftBase } from './draft-base.js';

/** Why the registry's integrity cannot be taken for a copy any more; null: it can, or this is another kind of edit. */
export function overtakenIntegrity(
  { records, lock }: Pick<DraftBase, 'records' | 'lock'>,
  edit: Edit,
): EditProblem | null {
  if (edit.kind !== 'take-integrity') return null;
  const { package: name, version, integrity } = edit;
  const resolution = lock?.resolution ?? null;
  const dispute =
    resolution === null
      ? undefined
      : disputedCopies(records, resolution).find(
          (one) => one.name === name && one.version === version,
        );
  if (dispute?.offered === integrity) return null;
  return {
    code: 'EDIT_OVERTAKEN',
    message:
      dispute === undefined
        ? `Lockfile and registry agree on ${name} ${version} by now, or the lockfile no longer has it.`
        : `The registry says another integrity of ${name} ${version} by now: ${dispute.offered}.`,
  };
}
