import type { Edit } from '../api/client';

/** Tells of a package and a project's folder whether edits are about the requirement of the one on the other. */
export function pencilledCells(edits: readonly Edit[]): (name: string, folder: string) => boolean {
  const keys = new Set(
    edits.flatMap((edit) =>
      'projects' in edit ? edit.projects.map((folder) => `${edit.package} ${folder}`) : [],
    ),
  );
  return (name, folder) => keys.has(`${name} ${folder}`);
}
