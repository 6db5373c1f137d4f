import type { Change } from './changed-workspace.js';

/** Changes in words, with the places of ranges; a sentence. */
export function changesWords(changes: readonly Change[]): string {
  const [first, ...others] = changes.map(changeWords);
  const rest = others.map((words) => `, and ${words.charAt(0).toLowerCase()}${words.slice(1)}`);
  return `${first}${rest.join('')}.`;
}

function changeWords(change: Change): string {
  switch (change.kind) {
    case 'range': {
      const [first, ...others] = change.requirements;
      const { name, written, file, line } = first!;
      const more = others.length === 0 ? '' : ` and ${others.length} more of the same`;
      const what =
        written === 'shared'
          ? `the shared version of ${name}`
          : `the range of ${name} in ${file}:${line}${more}`;
      const apart = change.isElsewhere ? ' (the two have no version in common)' : '';
      return `Change ${what} from ${change.from} to ${change.to}${apart}`;
    }
    case 'copies':
      return change.to === 'any'
        ? `Allow any number of copies of ${change.name}`
        : `Allow one copy of ${change.name} for each major version`;
    case 'platform':
      return change.from === null
        ? `Offer ${change.name} ${change.to} in the platform`
        : `Raise the platform's ${change.name} from ${change.from} to ${change.to}`;
    case 'pin':
      return `Take away the pin of ${change.name} to ${change.from}`;
    case 'minimum-age':
      return `Allow releases of ${change.name} that are younger than ${change.from} days`;
    case 'peers':
      return 'Report peers that are not met instead of refusing them';
  }
}
