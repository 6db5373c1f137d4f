import {
  planSetUnit,
  unitKey,
  withoutEmptyTables,
  type RequirementKind,
} from '../manifest/index.js';
import { removeForeign, setForeignText, shapeOfFile } from '../shape/index.js';
import { applyEdits } from '../text/index.js';
import { isOwnFile, unitsOfFile } from '../workspace/index.js';
import type { Edit } from '../edit/index.js';
import type { EditedFiles } from './edited-files.js';

/**
 * Puts units of manifests back as they were. A unit that someone else has changed since is not overwritten: the edit is
 * refused and names it.
 */
export function applyTakeBack(
  files: EditedFiles,
  { units, commit }: Extract<Edit, { kind: 'take-back' }>,
): void {
  // A requirement that moves to another kind goes before it comes: no manifest may have both.
  const goneFirst = [...units].sort(
    (a, b) => Number(a.source !== null) - Number(b.source !== null),
  );
  for (const { file, path, found, source, isBlock } of goneFirst) {
    if (!files.has(file)) {
      return files.refuse('EDIT_OVERTAKEN', `${file} is not there any more.`);
    }
    const text = files.text(file);
    const { shapes } = files.workspace;
    const now = unitsOfFile(file, text, shapes)?.get(unitKey(path)) ?? null;
    if (now?.source !== undefined && now.source === source) continue;
    if ((now?.value ?? null) !== found) {
      return files.refuse(
        'EDIT_OVERTAKEN',
        `${path.join(' ')} in ${file} has been changed since ${commit.slice(0, 7)}. Take it back by hand there, and take this edit out.`,
      );
    }
    const shape = isOwnFile(file) ? null : shapeOfFile(shapes, file);
    if (shape !== null) {
      const [kind, name] = path as readonly [RequirementKind, string];
      files.changeForeign(file, (now) =>
        source === null
          ? removeForeign(now, shape, kind, name)
          : setForeignText(now, shape, kind, name, source),
      );
      continue;
    }
    const edits = planSetUnit(text, path, source === null ? null : { source, isBlock });
    const back = applyEdits(text, edits);
    if ((unitsOfFile(file, back, shapes)?.get(unitKey(path))?.source ?? null) !== source) {
      return files.refuse(
        'EDIT_FILE_UNREADABLE',
        `${path.join(' ')} in ${file} is written in a form that has no place for what it was before ${commit.slice(0, 7)}. Put it back by hand there, and take this edit out.`,
      );
    }
    files.set(file, back);
  }
  for (const { file, path, source } of units)
    if (source === null && isOwnFile(file))
      files.set(file, withoutEmptyTables(files.text(file), [path]));
}
