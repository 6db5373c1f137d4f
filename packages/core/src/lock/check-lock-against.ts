import type { PackageRecords } from '../registry/index.js';
import { resolve, type ProjectAnswers, type Copy } from '../resolve/index.js';
import { LOCK_FILE, Places, type Workspace, type WorkspaceFiles } from '../workspace/index.js';
import { checkLock, type LockState } from './check-lock.js';
import type { LockReason } from './lock-reason.js';
import { printCopy, printLock, printProject } from './print-lock.js';
import { readLock, type LockHeads } from './read-lock.js';

/** What a registry says, and on which day it is asked. */
export interface Registry {
  readonly records: PackageRecords;
  /** YYYY-MM-DD */
  readonly asOf: string;
}

/**
 * Checks the lockfile as `checkLock` does and then, where nothing was found, against the registry: it is
 * consistent exactly when locking again on that day would write the same bytes.
 * @returns null where the registry's records do not reach far enough: load what is missing, as for `resolve`
 * Cost: a resolution from nothing.
 */
export function checkLockAgainst(
  workspace: Workspace,
  files: WorkspaceFiles,
  { records, asOf }: Registry,
): LockState | null {
  const text = files.get(LOCK_FILE);
  const reading = text === undefined ? null : readLock(text);
  const state = checkLock(workspace, files, reading ?? undefined, asOf);
  if (state.state !== 'consistent' || text === undefined || reading?.kind !== 'read') return state;
  const outcome = resolve({ workspace, records, asOf, before: reading.resolution });
  if (outcome.kind === 'ask') return null;
  if (outcome.kind === 'unanswered') {
    const message =
      'Locking again finds no answer: what answered a requirement can no longer be used. `deep-ledger lock` explains it.';
    const place = { file: LOCK_FILE, line: 1, column: 1 };
    return {
      ...state,
      state: 'stale',
      reasons: [{ code: 'NO_ANSWER', about: [], message, place }],
    };
  }
  if (printLock(outcome.resolution) === text) return state;
  const places = new Places(files);
  const after = [
    ...outcome.resolution.projects.map(titled(projectTitle, printProject)),
    ...outcome.resolution.copies.map(titled(copyTitle, printCopy)),
  ];
  const before = [
    ...reading.resolution.projects.map(titled(projectTitle, printProject)),
    ...reading.resolution.copies.map(titled(copyTitle, printCopy)),
  ];
  const reasons = changedBlocks(before, after, reading.heads, places);
  return { ...state, state: 'stale', reasons };
}

interface Titled {
  readonly title: string;
  readonly text: string;
  readonly block: ProjectAnswers | Copy;
}

function titled<B extends ProjectAnswers | Copy>(
  title: (block: B) => string,
  print: (block: B) => string,
): (block: B) => Titled {
  return (block) => ({ title: title(block), text: print(block), block });
}

function projectTitle({ folder }: ProjectAnswers): string {
  return `project ${folder}`;
}

function copyTitle({ name, version }: Copy): string {
  return `copy ${name} ${version}`;
}

function changedBlocks(
  before: readonly Titled[],
  after: readonly Titled[],
  heads: LockHeads,
  places: Places,
): readonly LockReason[] {
  const reasons: LockReason[] = [];
  const add = (title: string, message: string, offset: number): void => {
    const place = places.of(LOCK_FILE, [offset, offset]);
    reasons.push({ code: 'BLOCK_CHANGES', about: [title], message, place });
  };
  const left = new Map(after.map((one) => [one.title, one]));
  for (const { title, text, block } of before) {
    const now = left.get(title);
    left.delete(title);
    if (now?.text === text) continue;
    const head = heads.get(block) ?? 0;
    if (now === undefined) add(title, `Locking again takes the block "${title}" away.`, head);
    else {
      const lines = new Set(text.split('\n'));
      const line = now.text.split('\n').find((one) => !lines.has(one)) ?? '';
      add(
        title,
        line === ''
          ? `Locking again takes lines out of the block "${title}".`
          : `Locking again changes the block "${title}": it would say "${line.trim()}".`,
        head,
      );
    }
  }
  for (const title of left.keys()) add(title, `Locking again adds the block "${title}".`, 0);
  return reasons;
}
