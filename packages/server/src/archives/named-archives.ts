import { createHash } from 'node:crypto';
import { setImmediate } from 'node:timers/promises';
import { Injectable } from '@nestjs/common';
import { LOCK_FILE, readLock, type KnownBlocks } from '@deep-ledger/core';
import { digestName, digestOf } from '@deep-ledger/install';
import { MOST_LOCKFILE_BYTES } from '../git/file-limits.js';
import { GitFiles } from '../git/git-files.js';
import { GitHistory } from '../git/git-history.js';
import type { TreeFile } from '../git/tree-file.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';

/** Branches beside the one that is looked at: those with the newest commits. */
const MOST_BRANCHES = 100;
/** Lockfiles that are read at once. */
const AT_ONCE = 10;

/** An archive that lockfiles name. */
export interface NamedArchive {
  readonly digest: string;
  readonly name: string;
  readonly version: string;
  readonly integrity: string;
  readonly registry: string;
  readonly archive: string;
  /** In the order in which they are looked at. */
  readonly branches: string[];
}

interface BranchLock {
  readonly branch: string;
  readonly file: TreeFile;
}

/** The lockfiles of a workspace's branches. */
export interface BranchLocks {
  readonly locks: readonly BranchLock[];
  /** The same as long as none of them changes. */
  readonly sum: string;
}

/** Which archives the lockfiles of a workspace's branches name. */
@Injectable()
export class NamedArchives {
  constructor(
    private readonly history: GitHistory,
    private readonly files: GitFiles,
  ) {}

  /** Two processes, however many branches there are. */
  async locksOf({ id, branch }: WorkspaceEntity): Promise<BranchLocks> {
    const heads = [...(await this.history.heads(id))].sort((a, b) =>
      a.name === branch || (b.name !== branch && Date.parse(a.head.at) > Date.parse(b.head.at))
        ? -1
        : 1,
    );
    const told = heads.slice(0, 1 + MOST_BRANCHES);
    const files = await this.files.filesAt(
      id,
      told.map(({ head }) => `${head.commit}:${LOCK_FILE}`),
    );
    const locks = told.flatMap(({ name }, i): BranchLock[] => {
      const file = files[i];
      if (file == null || file.bytes > MOST_LOCKFILE_BYTES) return [];
      return [{ branch: name, file: { path: LOCK_FILE, ...file } }];
    });
    const hash = createHash('sha256');
    for (const { branch: name, file } of locks) hash.update(`${name}\0${file.oid}\0`);
    return { locks, sum: hash.digest('hex').slice(0, 16) };
  }

  /** Each archive once; a lockfile that several branches have is read once. */
  async in(
    { id }: WorkspaceEntity,
    { locks }: BranchLocks,
    signal: AbortSignal,
  ): Promise<readonly NamedArchive[]> {
    const branches = new Map<string, string[]>();
    const files = new Map<string, TreeFile>();
    for (const { branch, file } of locks) {
      branches.set(file.oid, [...(branches.get(file.oid) ?? []), branch]);
      files.set(file.oid, file);
    }
    const named = new Map<string, NamedArchive>();
    const known: KnownBlocks = new Map();
    const all = [...files.values()];
    for (let i = 0; i < all.length; i += AT_ONCE) {
      const some = all.slice(i, i + AT_ONCE);
      const texts = await this.files.readBlobs(id, some);
      for (const [n, text] of texts.entries()) {
        // Between one long step and the next others get on with theirs.
        await setImmediate();
        signal.throwIfAborted();
        note(named, text, branches.get(some[n]!.oid)!, known);
      }
    }
    return [...named.values()];
  }
}

/** What cannot be read names nothing. */
function note(
  named: Map<string, NamedArchive>,
  text: string,
  branches: readonly string[],
  known: KnownBlocks,
): void {
  const reading = readLock(text, known);
  if (reading.kind !== 'read') return;
  const { copies } = reading.resolution;
  for (const { name, version, integrity, registry, archive } of copies) {
    const digest = digestName(digestOf(integrity));
    const one = named.get(digest);
    if (one !== undefined) one.branches.push(...branches);
    else
      named.set(digest, {
        ...{ digest, name, version, integrity, registry, archive },
        branches: [...branches],
      });
  }
}
