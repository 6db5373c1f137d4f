import type { ChangeCause, CopyCauses } from '@deep-ledger/core';

/** One change of a lockfile in a line, and why. */
export function changeWords({ name, from, to, causes }: CopyCauses): string {
  return `${changed(name, from, to)}${whyWords(causes)}`;
}

function changed(name: string, from: string | null, to: string | null): string {
  if (from === null) return `in     ${name} ${to}`;
  if (to === null) return `out    ${name} ${from}`;
  return `moved  ${name} ${from} -> ${to}`;
}

function whyWords(causes: readonly ChangeCause[]): string {
  return causes.length === 0 ? '' : `: ${causes.map(causeWords).join('; ')}`;
}

function causeWords(cause: ChangeCause): string {
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
