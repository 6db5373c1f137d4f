import {
  copyKey,
  type AnsweredRequirement,
  type Copy,
  type ProjectAnswers,
  type Resolution,
  type SuppliedPeer,
} from '../resolve/index.js';
import { compareVersions, requireVersion } from '../version/index.js';

const NOTHING: Resolution = { projects: [], copies: [] };

/**
 * What a resolution after a merge holds on to: every answer that either side has; where both have one,
 * the one that changed since the base; where both changed it, the newer. It is no lockfile by itself.
 * Swapping the sides changes nothing. O(requirements).
 */
export function mergeAnswers(
  base: Resolution | null,
  ours: Resolution | null,
  theirs: Resolution | null,
): Resolution {
  const [b, o, t] = [base ?? NOTHING, ours ?? NOTHING, theirs ?? NOTHING];
  return {
    projects: mergeLists(b.projects, o.projects, t.projects, ({ folder }) => folder, mergeProjects),
    copies: mergeLists(b.copies, o.copies, t.copies, copyKey, mergeCopies),
  };
}

/** @param merge of the things with one key; each may be missing on any side but one */
function mergeLists<T>(
  base: readonly T[],
  ours: readonly T[],
  theirs: readonly T[],
  keyOf: (one: T) => string,
  merge: (base: T | undefined, ours: T, theirs: T) => T,
): readonly T[] {
  const [inBase, inOurs, inTheirs] = [base, ours, theirs].map(
    (list) => new Map(list.map((one) => [keyOf(one), one])),
  ) as [Map<string, T>, Map<string, T>, Map<string, T>];
  return [...new Set([...inOurs.keys(), ...inTheirs.keys()])].sort().map((key) => {
    const [o, t] = [inOurs.get(key), inTheirs.get(key)];
    // Equal blocks of lockfiles that were read together are one object.
    return o === undefined || t === undefined || o === t ? (o ?? t)! : merge(inBase.get(key), o, t);
  });
}

function mergeProjects(
  base: ProjectAnswers | undefined,
  ours: ProjectAnswers,
  theirs: ProjectAnswers,
): ProjectAnswers {
  return {
    ...ours,
    requirements: mergeRequirements(base, ours, theirs),
    supplied: mergeLists(
      base?.supplied ?? [],
      ours.supplied,
      theirs.supplied,
      ({ name }) => name,
      (b, o, t) => changed(b, o, t, (one: SuppliedPeer) => one.version),
    ),
  };
}

function mergeCopies(base: Copy | undefined, ours: Copy, theirs: Copy): Copy {
  const was = base?.integrity;
  const [o, t] = [ours.integrity, theirs.integrity];
  // Where both sides took another, the finding about it tells; here the two sides only have to count the same.
  const integrity = o === was ? t : t === was || o < t ? o : t;
  return { ...ours, integrity, requirements: mergeRequirements(base, ours, theirs) };
}

function mergeRequirements(
  base: Pick<Copy, 'requirements'> | undefined,
  ours: Pick<Copy, 'requirements'>,
  theirs: Pick<Copy, 'requirements'>,
): readonly AnsweredRequirement[] {
  return mergeLists(
    base?.requirements ?? [],
    ours.requirements,
    theirs.requirements,
    ({ kind, name }) => `${kind} ${name}`,
    (b, o, t) =>
      changed(b, o, t, ({ answer }: AnsweredRequirement) =>
        answer.kind === 'copy' ? answer.version : null,
      ),
  );
}

function changed<T>(
  base: T | undefined,
  ours: T,
  theirs: T,
  versionOf: (one: T) => string | null,
): T {
  const [b, o, t] = [base, ours, theirs].map((one) => JSON.stringify(one));
  if (o === t || t === b) return ours;
  if (o === b) return theirs;
  const [x, y] = [versionOf(ours), versionOf(theirs)];
  if (x === null || y === null)
    return x === null && y !== null ? theirs : x !== null ? ours : o! < t! ? ours : theirs;
  const order = compareVersions(requireVersion(x), requireVersion(y));
  if (order !== 0) return order > 0 ? ours : theirs;
  return o! < t! ? ours : theirs;
}
