import {
  isBlocking,
  placeProblems,
  readWorkspace,
  type Workspace,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import type { Output } from './output.js';

/** The workspace, or null when something stands in the way; that is said. */
export function usableWorkspace(files: WorkspaceFiles, output: Output): Workspace | null {
  const { workspace, problems } = readWorkspace(files);
  for (const { place, message } of placeProblems(files, problems))
    output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
  return problems.some(isBlocking) ? null : workspace;
}
