import type { Edit } from '../api/client';

/** What is tried out, in words. */
export function triedWords(edit: Edit): string {
  switch (edit.kind) {
    case 'remove-requirement':
      return `${edit.projects.join(', ')} without ${edit.package}`;
    case 'add-requirement':
      return `${edit.projects.join(', ')} with ${edit.package} ${edit.range}`;
    case 'set-range':
      return `${edit.projects.join(', ')} asks for ${edit.package} ${edit.range}`;
    case 'level':
      return `${edit.package} level at ${edit.range}`;
    case 'upgrade':
      return edit.moves.map((move) => `${move.package} ${move.to}`).join(', ');
    case 'set-shared':
      return `${edit.package} agreed at ${edit.range}`;
    case 'take-shared':
      return `${edit.projects.join(', ')} take the shared version of ${edit.package}`;
    case 're-pick':
      return `${edit.package} ${edit.to} instead of ${edit.from}`;
    case 'set-platform':
      return `the platform offers ${edit.name} ${edit.version}`;
    case 'set-policy':
      return `policy ${edit.setting}: ${edit.value}`;
    default:
      return edit.kind.replaceAll('-', ' ');
  }
}
