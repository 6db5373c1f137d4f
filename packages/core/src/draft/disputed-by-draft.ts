import type { Edit, EditProblem } from '../edit/index.js';
import { printCopy } from '../lock/index.js';
import type { PackageRecords } from '../registry/index.js';
import {
  copyKey,
  disputedCopies,
  type AnsweredRequirement,
  type DisputedCopy,
  type Resolution,
} from '../resolve/index.js';
import type { DraftBase } from './draft-base.js';

/**
 * Copies that stay in dispute and that a draft touches: their block in the lockfile changes, or others require them
 * than before. One that leaves the lockfile is not among them.
 * Cost: O(copies), and O(requirements of both) where any copy is in dispute.
 */
export function disputedByDraft(
  records: PackageRecords,
  before: Resolution,
  after: Resolution,
): readonly DisputedCopy[] {
  const disputed = disputedCopies(records, after);
  if (disputed.length === 0) return [];
  const [was, is] = [blocksAndRequirers(before), blocksAndRequirers(after)];
  return disputed.filter((dispute) => was(copyKey(dispute)) !== is(copyKey(dispute)));
}

/** Of a copy's key, its block and all who are answered by it, as one text. */
function blocksAndRequirers({ projects, copies }: Resolution): (key: string) => string {
  const blocks = new Map(copies.map((copy) => [copyKey(copy), copy]));
  const requirers = new Map<string, string[]>();
  const note = (owner: string, { kind, name, answer }: AnsweredRequirement): void => {
    if (answer.kind !== 'copy') return;
    const key = copyKey({ name, version: answer.version });
    const known = requirers.get(key);
    if (known === undefined) requirers.set(key, [`${owner} ${kind}`]);
    else known.push(`${owner} ${kind}`);
  };
  for (const { folder, requirements } of projects)
    for (const one of requirements) note(`project ${folder}`, one);
  for (const copy of copies) for (const one of copy.requirements) note(copyKey(copy), one);
  return (key) => {
    const copy = blocks.get(key);
    return `${copy === undefined ? '' : printCopy(copy)}\n${(requirers.get(key) ?? []).join('\n')}`;
  };
}

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
