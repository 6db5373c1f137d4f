import type { OwnerLine } from '../manifest/index.js';
import { filesOfShape } from '../shape/index.js';
import { ROOT_FILE, type FileProblem } from './workspace.js';

/** Who answers for a project in a folder, sorted. Building: O(length of the patterns). */
export function ownersByFolder(
  owners: readonly OwnerLine[],
): (folder: string) => readonly string[] {
  const rules = owners.map(({ name, folders }) => ({
    name,
    isOf: filesOfShape({ files: folders.map(({ text }) => text) }),
  }));
  return (folder) => rules.flatMap(({ name, isOf }) => (isOf(folder) ? [name] : [])).sort();
}

/** Patterns of `[owners]` that match no project. O(patterns x folders). */
export function idleOwnerPatterns(
  owners: readonly OwnerLine[],
  folders: readonly string[],
): readonly FileProblem[] {
  return owners
    .flatMap((owner) => owner.folders)
    .filter(({ text }) => !folders.some(filesOfShape({ files: [text.replace(/^!/, '')] })))
    .map(({ text, span }) => ({
      file: ROOT_FILE,
      problem: { code: 'OWNER_WITHOUT_MATCH', pattern: text, span },
    }));
}
