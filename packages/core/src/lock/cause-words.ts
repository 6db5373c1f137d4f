import type { ChangeCause } from './lock-change-causes.js';

/** Why a copy came, went or moved, in words. */
export function causeWords(cause: ChangeCause): string {
  switch (cause.kind) {
    case 'requirement': {
      const { project, name, from, to } = cause.requirement;
      if (from === null) return `${project} now requires ${name} ${to}`;
      if (to === null) return `${project} no longer requires ${name} ${from}`;
      return `${project} requires ${name} ${to}, before ${from}`;
    }
    case 'owner':
      return `${cause.copy} ${cause.change}`;
    case 'supply':
      return `${cause.project} is supplied otherwise with ${cause.name}`;
    case 'release':
      return 'another release answers the same demands';
  }
}
