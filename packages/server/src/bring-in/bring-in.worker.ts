import { LRUCache } from 'lru-cache';
import {
  proposeShapes,
  readBroughtIn,
  type BroughtIn,
  type Proposal,
  type UnresolvedRequirement,
  type WorkspaceFiles,
  type WorkspaceReading,
} from '@deep-ledger/core';

/** A question about the texts of a repository, which are sent along only where the thread does not have them yet. */
export interface BringInTask {
  readonly key: string;
  readonly texts: WorkspaceFiles | null;
  /** Files of ours to read it with, and the path of a file to show; null: shapes are to be proposed. */
  readonly read: { readonly own: WorkspaceFiles; readonly sample: string | null } | null;
}

export type BringInAnswer =
  | { readonly kind: 'proposal'; readonly proposal: Proposal }
  | { readonly kind: 'read'; readonly found: BroughtInPlain }
  | { readonly kind: 'lacks' };

/** Without the workspace itself: queries and ranges cannot be sent to another thread. */
export type BroughtInPlain = Omit<BroughtIn, 'workspace'> & {
  readonly workspace: {
    readonly projects: number;
    readonly requirements: number;
    readonly packages: number;
    readonly unresolved: readonly UnresolvedRequirement[];
  } | null;
};

interface Kept {
  readonly texts: WorkspaceFiles;
  proposal: Proposal | null;
  reading: WorkspaceReading | undefined;
}

const MOST_KEPT = 2;
const kept = new LRUCache<string, Kept>({ max: MOST_KEPT });

/** Answers from repositories that stay in the thread, so that one change of a shape after another reads only what it changed. */
export default function answer({ key, texts, read }: BringInTask): BringInAnswer {
  const one =
    kept.get(key) ?? (texts === null ? null : { texts, proposal: null, reading: undefined });
  if (one === null) return { kind: 'lacks' };
  kept.set(key, one);
  if (read === null) {
    one.proposal ??= proposeShapes(one.texts);
    return { kind: 'proposal', proposal: one.proposal };
  }
  const files = new Map([...one.texts, ...read.own]);
  const { reading, found } = readBroughtIn(files, read.sample, one.reading);
  one.reading = reading;
  return { kind: 'read', found: plain(found) };
}

function plain({ workspace, ...found }: BroughtIn): BroughtInPlain {
  if (workspace === null) return { ...found, workspace };
  const { projects } = workspace;
  const requirements = projects.flatMap((one) => one.requirements);
  return {
    ...found,
    workspace: {
      projects: projects.length,
      requirements: requirements.length,
      packages: new Set(
        requirements.flatMap(({ name, meaning }) => (meaning.kind === 'project' ? [] : [name])),
      ).size,
      unresolved: projects.flatMap((one) => one.unresolved),
    },
  };
}
