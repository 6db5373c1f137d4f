import { aheadTask, readAhead } from './read-ahead.js';
import { readWorkspace, type WorkspaceReading } from './read-workspace.js';
import type { WorkspaceFiles } from './workspace.js';

/** A reading without shapes, whose queries are functions. */
export function plain({ workspace, problems }: WorkspaceReading): unknown {
  const projects = workspace?.projects.map((one) => ({
    ...one,
    foreign: one.foreign.map(({ file }) => file),
  }));
  return { workspace: workspace && { ...workspace, shapes: null, projects }, problems };
}

/** Read as by another thread, from which only plain data comes. */
export function readApart(files: WorkspaceFiles, before?: WorkspaceReading): WorkspaceReading {
  const task = structuredClone(aheadTask(files, before));
  return readWorkspace(files, before, structuredClone(readAhead(task)));
}
