import type { Edit } from '../api/client';

/** What a requirement would say with edits made, by package and a project's folder; null: they are not about it. */
export function pencilledCells(
  edits: readonly Edit[],
  agreedOf: (name: string) => string | null,
): (name: string, folder: string) => string | null {
  const values = new Map<string, string>();
  const agreed = new Map<string, string>();
  for (const edit of edits) {
    if (edit.kind === 'level' || edit.kind === 'set-shared') agreed.set(edit.package, edit.range);
    if (!('projects' in edit)) continue;
    for (const folder of edit.projects) values.set(`${edit.package} ${folder}`, valueOf(edit));
  }
  return (name, folder) => {
    const value = values.get(`${name} ${folder}`) ?? null;
    return value === 'shared' ? (agreed.get(name) ?? agreedOf(name) ?? value) : value;
  };
}

function valueOf(edit: Extract<Edit, { projects: string[] }>): string {
  switch (edit.kind) {
    case 'level':
    case 'take-shared':
      return 'shared';
    case 'set-range':
    case 'add-requirement':
      return edit.range;
    case 'remove-requirement':
      return '–';
    case 'change-kind':
      return edit.as;
  }
}
