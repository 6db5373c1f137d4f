import { nearestWord, type Project } from '@deep-ledger/core';
import type { Output } from './output.js';

/** Folders of projects by name or folder; null: some are not there, which is said. */
export function namedProjects(
  projects: readonly Project[],
  named: readonly string[],
  output: Output,
): readonly string[] | null {
  const known = projects.flatMap(({ name, folder }) => [name, folder]);
  const unknown = named.filter((one) => !known.includes(one));
  if (unknown.length > 0) output.progress(null);
  for (const one of unknown) {
    const near = nearestWord(one, known);
    const meant = near === null ? '' : ` Did you mean ${near}?`;
    output.complain(`There is no project ${one}.${meant} Nothing was done.`);
  }
  if (unknown.length > 0) return null;
  return named.map(
    (one) => projects.find(({ name, folder }) => name === one || folder === one)!.folder,
  );
}
