import type { ManifestUnit } from '../manifest/index.js';
import { LOCK_FILE, shapesIn, unitsOfFile, type WorkspaceFiles } from '../workspace/index.js';

/** Something that a hand-written file says otherwise than before. */
export interface ChangedUnit {
  readonly file: string;
  /** Null: it was not there. */
  readonly was: ManifestUnit | null;
  /** Null: it is not there any more. */
  readonly is: ManifestUnit | null;
}

/**
 * What the hand-written files of two states of a workspace say differently, by meaning: comments and spelling
 * do not count. Files that cannot be read in one of the states are left out. Sorted by file and path.
 */
export function changedUnits(
  before: WorkspaceFiles,
  after: WorkspaceFiles,
): readonly ChangedUnit[] {
  const files = [...new Set([...before.keys(), ...after.keys()])].filter(
    (file) => file !== LOCK_FILE && before.get(file) !== after.get(file),
  );
  const [shapesBefore, shapesAfter] = [shapesIn(before), shapesIn(after)];
  return files.sort().flatMap((file) => {
    const then = unitsOfFile(file, before.get(file) ?? '', shapesBefore);
    const now = unitsOfFile(file, after.get(file) ?? '', shapesAfter);
    if (then === null || now === null) return [];
    return [...new Set([...then.keys(), ...now.keys()])].sort().flatMap((key): ChangedUnit[] => {
      const [was, is] = [then.get(key) ?? null, now.get(key) ?? null];
      return was?.value === is?.value ? [] : [{ file, was, is }];
    });
  });
}
