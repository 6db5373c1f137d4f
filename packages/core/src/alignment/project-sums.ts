import type { Workspace } from '../workspace/index.js';
import type { AlignmentRow } from './alignment-row.js';

/** How many of a project's requirements stand how. */
export interface ProjectSum {
  readonly folder: string;
  readonly name: string;
  /** On packages. */
  readonly requirements: number;
  /** That take the shared version. */
  readonly takes: number;
  readonly off: number;
  readonly exceptions: number;
}

/** The projects in the workspace's order. O(projects + requirements). */
export function projectSums(
  { projects }: Workspace,
  rows: readonly AlignmentRow[],
): readonly ProjectSum[] {
  const sums = projects.map(({ folder, name }) => ({
    folder,
    name,
    requirements: 0,
    takes: 0,
    off: 0,
    exceptions: 0,
  }));
  const byFolder = new Map(sums.map((sum) => [sum.folder, sum]));
  for (const { cells } of rows)
    for (const { project, standing, isOff } of cells) {
      const sum = byFolder.get(project);
      if (sum === undefined) continue;
      sum.requirements += 1;
      sum.takes += standing === 'takes' ? 1 : 0;
      sum.off += isOff ? 1 : 0;
      sum.exceptions += standing === 'excepted' ? 1 : 0;
    }
  return sums;
}
