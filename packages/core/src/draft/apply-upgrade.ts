import type { Edit } from '../edit/index.js';
import { upgradeStep } from '../edit/index.js';
import { schemeOf } from '../manifest/index.js';
import { agree } from './apply-shared-edit.js';
import type { EditedFiles } from './edited-files.js';

/** Writes the ranges that stand in the way of the moves; what the lockfile answers follows when it is resolved. */
export function applyUpgrade(
  files: EditedFiles,
  { moves }: Extract<Edit, { kind: 'upgrade' }>,
): void {
  const { registries, projects } = files.workspace;
  for (const move of moves) {
    const scheme = schemeOf(registries, move.package);
    if (!files.isVersion(move.from, scheme) || !files.isVersion(move.to, scheme)) return;
  }
  for (const move of moves) {
    const { shared, own } = upgradeStep(files.workspace, move);
    if (shared !== null) agree(files, move.package, shared);
    for (const [{ project, kind, name }, range] of own)
      files.setRequirement(
        projects.find(({ folder }) => folder === project)!,
        kind,
        name,
        range,
      );
  }
}
