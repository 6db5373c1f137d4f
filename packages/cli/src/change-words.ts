import { causeWords, type ChangeCause, type CopyCauses } from '@deep-ledger/core';

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
