import type { Archives } from '../api/client';
import { bytes, count } from '../parts/words';

const SHOWN = ['all', 'missing', 'gone', 'unused'] as const;
export type Shown = (typeof SHOWN)[number];

/** Lines of a page, as the server has them. */
export const LINES = 100;

export interface ArchivesView {
  readonly show: Shown;
  /** Lines before the first one. */
  readonly skip: number;
}

/** What is chosen in the address. */
export function viewOf(params: URLSearchParams): ArchivesView {
  const skip = Number(params.get('skip') ?? 0);
  return {
    show: SHOWN.find((one) => one === params.get('show')) ?? 'all',
    skip: Number.isInteger(skip) && skip > 0 ? skip : 0,
  };
}

/** The state of things in a sentence. */
export function headingOf({ isOn, lookedAt, named, missing, branches }: Archives): string {
  if (!isOn) return 'This server keeps no archives.';
  if (lookedAt === null) return 'Going through the lockfiles for the first time.';
  if (named === 0) return 'No lockfile of this workspace names an archive yet.';
  const by = branches === 1 ? 'the lockfile names' : `the lockfiles of ${branches} branches name`;
  const kept = named - missing;
  return missing === 0
    ? `All of the ${count(named, 'archive')} that ${by} ${named === 1 ? 'is' : 'are'} kept.`
    : `${kept} of the ${count(named, 'archive')} that ${by} ${kept === 1 ? 'is' : 'are'} kept, ${missing} ${missing === 1 ? 'is' : 'are'} not.`;
}

/** How much room is taken, in a sentence. */
export function roomOf({ archives, bytes: taken, mostBytes }: Archives): string {
  const all = `${count(archives, 'archive')} of all workspaces`;
  return `${all} ${archives === 1 ? 'takes' : 'take'} ${bytes(taken)} of ${bytes(mostBytes)}.`;
}
