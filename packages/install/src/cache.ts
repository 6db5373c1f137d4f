import { randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream, readFileSync, statSync } from 'node:fs';
import { mkdir, readdir, rename, rm, stat, utimes, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createHash } from 'node:crypto';
import type { Arrived } from './arrival.js';
import { InstallTrouble } from './install-trouble.js';
import { digestName, digestOf, hashArchive, hashFile, type Digest } from './integrity.js';
import { readArchive, USUAL_LIMITS, type ArchiveFile, type ArchiveLimits } from './read-archive.js';

/** A file of an unpacked archive. */
export interface KeptFile {
  readonly path: string;
  readonly bytes: number;
  readonly sha256: string;
  readonly isExecutable: boolean;
  /** When it was written, in milliseconds: one that still has its size and this is taken to be as it was. */
  readonly writtenAt: number;
}

/** What stands beside the files of an unpacked archive. */
export interface KeptList {
  readonly name: string;
  readonly version: string;
  readonly integrity: string;
  /** Of the archive. */
  readonly packed: number;
  readonly files: readonly KeptFile[];
}

/** An unpacked archive in the cache. */
export interface KeptTree extends KeptList {
  /** Where its files are. */
  readonly folder: string;
  readonly lastUsed: Date;
}

/** Whose archive it is, and what it must be. */
export interface Wanted {
  readonly name: string;
  readonly version: string;
  readonly integrity: string;
}

const LIST = 'list.json';
const FILES = 'files';
/** A file up to this size is written in one go. */
const WHOLE_BYTES = 4 * 1024 ** 2;
const HOUR_MS = 60 * 60_000;
/** How long files of a process that has gone are left alone. */
const LEFT_MS = 24 * 60 * 60_000;

/**
 * Archives, checked and unpacked, by their integrity, for all work trees of a user. Safe for many processes at once:
 * everything is written under a name of its own and then renamed, so that what is there is whole, also after a kill.
 * After a power cut a file that is short is found by its size, and a list by its end.
 */
export class Cache {
  constructor(
    readonly folder: string,
    private readonly limits: ArchiveLimits = USUAL_LIMITS,
  ) {}

  /** The unpacked archive of an integrity; null: it is not here. */
  tree(integrity: string): KeptTree | null {
    return this.at(this.place(digestOf(integrity)));
  }

  /**
   * The same, unless a file of it was changed since: what looks changed is hashed again, and taken out if it is not as it was.
   * O(files).
   */
  async sound(integrity: string): Promise<KeptTree | null> {
    const tree = this.tree(integrity);
    if (tree === null || tree.files.every((file) => looksUnchanged(tree.folder, file))) return tree;
    if ((await this.faults(tree)).length === 0) return tree;
    await this.remove(tree);
    return null;
  }

  /**
   * Takes an archive in: its bytes are checked before the first of them is unpacked. Where another process was faster, what
   * that one has put there stays.
   * @param archive nobody else changes its bytes
   * @param isAnew put it in the place of what is there
   * @throws InstallTrouble where it is not what it must be, or is refused
   */
  async take(wanted: Wanted, archive: Arrived, isAnew = false): Promise<KeptTree> {
    const digest = digestOf(wanted.integrity);
    const packed = await this.check(digest, wanted, archive);
    const scratch = await this.scratch();
    try {
      await mkdir(scratch);
      const content = typeof archive === 'string' ? createReadStream(archive) : archive;
      const files = await this.unpack(content, packed, join(scratch, FILES));
      const { name, version, integrity } = wanted;
      const list: KeptList = { name, version, integrity, packed, files };
      await writeFile(join(scratch, LIST), JSON.stringify(list), { flag: 'wx' });
      const place = this.place(digest);
      await mkdir(dirname(place), { recursive: true });
      if (isAnew) await this.clear(place);
      const others = await this.put(scratch, place);
      if (others === null) return { ...list, folder: join(place, FILES), lastUsed: new Date() };
      await rm(scratch, { recursive: true, force: true });
      return others;
    } catch (error) {
      await rm(scratch, { recursive: true, force: true });
      throw error;
    }
  }

  /** A path of this process's own, for what nobody is to take for something that is there. */
  async scratch(): Promise<string> {
    const folder = join(this.folder, 'tmp');
    await mkdir(folder, { recursive: true });
    return join(folder, randomUUID());
  }

  /** Says that it was used now, to the hour. */
  async touch({ folder, lastUsed }: KeptTree): Promise<void> {
    const now = new Date();
    if (now.getTime() - lastUsed.getTime() < HOUR_MS) return;
    await utimes(join(dirname(folder), LIST), now, now).catch(() => undefined);
  }

  /** Everything that is here, by name and version. */
  async list(): Promise<readonly KeptTree[]> {
    const root = join(this.folder, 'trees');
    const trees: KeptTree[] = [];
    for (const part of await names(root))
      for (const one of await names(join(root, part))) {
        const tree = this.at(join(root, part, one));
        if (tree !== null) trees.push(tree);
      }
    const key = ({ name, version }: KeptList): string => `${name} ${version}`;
    return trees.sort((a, b) => (key(a) < key(b) ? -1 : 1));
  }

  /**
   * Hashes every file of an unpacked archive again.
   * @returns what does not hold, in words; none: all is as it was unpacked
   */
  async faults(tree: KeptTree): Promise<readonly string[]> {
    const faults: string[] = [];
    for (const { path, sha256 } of tree.files) {
      const found = await hashFile(join(tree.folder, path), 'sha256');
      if (found === null) faults.push(`${path} is missing`);
      else if (found.hex !== sha256) faults.push(`${path} was changed`);
    }
    return faults;
  }

  /**
   * Takes out what was used longest ago, until the rest is small enough.
   * @param spared integrities that stay, however long ago they were used
   * @returns what was taken out
   */
  async trim(mostBytes: number, spared: ReadonlySet<string>): Promise<readonly KeptTree[]> {
    const trees = [...(await this.list())];
    let bytes = trees.reduce((sum, tree) => sum + unpackedBytes(tree), 0);
    const gone: KeptTree[] = [];
    const oldest = trees
      .filter(({ integrity }) => !spared.has(integrity))
      .sort((a, b) => a.lastUsed.getTime() - b.lastUsed.getTime());
    for (const tree of oldest) {
      if (bytes <= mostBytes) break;
      await this.remove(tree);
      bytes -= unpackedBytes(tree);
      gone.push(tree);
    }
    return gone;
  }

  /** Takes one out: at once out of sight, then away. */
  async remove({ folder }: KeptTree): Promise<void> {
    await this.clear(dirname(folder));
  }

  private async clear(place: string): Promise<void> {
    const aside = await this.scratch();
    await rename(place, aside).catch((error: NodeJS.ErrnoException) => {
      // Another process was faster.
      if (error.code !== 'ENOENT') throw error;
    });
    await rm(aside, { recursive: true, force: true });
  }

  /** Takes away what processes have left behind that went away. */
  async tidy(): Promise<void> {
    const folder = join(this.folder, 'tmp');
    for (const name of await names(folder)) {
      const path = join(folder, name);
      const age = await stat(path).then(
        ({ mtimeMs }) => Date.now() - mtimeMs,
        () => 0,
      );
      if (age > LEFT_MS) await rm(path, { recursive: true, force: true });
    }
  }

  /** @returns the tree that another process has put there meanwhile, which stays; null: ours is there */
  private async put(scratch: string, place: string): Promise<KeptTree | null> {
    try {
      await rename(scratch, place);
      return null;
    } catch (error) {
      const { code = '' } = error as NodeJS.ErrnoException;
      if (!['ENOTEMPTY', 'EEXIST', 'EPERM'].includes(code)) throw error;
    }
    const others = this.at(place);
    if (others !== null) return others;
    // A power cut has left a tree without a list there.
    await this.clear(place);
    await rename(scratch, place);
    return null;
  }

  private place(digest: Digest): string {
    return join(this.folder, 'trees', digest.hex.slice(0, 2), digestName(digest));
  }

  /** Null where it is not there, or a power cut has left it without a list. Synchronous: there are many, and each takes no time. */
  private at(place: string): KeptTree | null {
    const list = join(place, LIST);
    try {
      const kept = JSON.parse(readFileSync(list, 'utf8')) as KeptList;
      return { ...kept, folder: join(place, FILES), lastUsed: statSync(list).mtime };
    } catch (error) {
      if (error instanceof SyntaxError) return null;
      if (['ENOENT', 'ENOTDIR'].includes((error as NodeJS.ErrnoException).code ?? '')) return null;
      throw error;
    }
  }

  private async check(
    { algorithm, hex }: Digest,
    { name, version }: Wanted,
    archive: Arrived,
  ): Promise<number> {
    const { hex: found, bytes } = (await hashArchive(archive, algorithm))!;
    if (found === hex) return bytes;
    throw new InstallTrouble(
      `The archive of ${name} ${version} is not what the lockfile has: its ${algorithm} is ${found.slice(0, 16)}…, not ${hex.slice(0, 16)}…. Nothing of it was unpacked.`,
    );
  }

  private async unpack(
    archive: Buffer | Readable,
    packed: number,
    folder: string,
  ): Promise<readonly KeptFile[]> {
    const files: KeptFile[] = [];
    const made = new Set<string>([folder]);
    await mkdir(folder);
    const take = async (file: ArchiveFile, content: Readable): Promise<void> => {
      const { path, isExecutable, bytes } = file;
      const target = `${folder}/${path}`;
      const parent = dirname(target);
      if (!made.has(parent)) await mkdir(parent, { recursive: true });
      made.add(parent);
      // Several work trees share the file, so nobody may write into it.
      const mode = isExecutable ? 0o555 : 0o444;
      const hash = createHash('sha256');
      if (bytes <= WHOLE_BYTES) {
        const whole = await collected(content);
        hash.update(whole);
        await writeFile(target, whole, { mode, flag: 'wx' });
      } else {
        const hashed = new Transform({
          transform(chunk: Buffer, _, done) {
            hash.update(chunk);
            done(null, chunk);
          },
        });
        await pipeline(content, hashed, createWriteStream(target, { mode, flags: 'wx' }));
      }
      const writtenAt = statSync(target).mtimeMs;
      files.push({ path, bytes, sha256: hash.digest('hex'), isExecutable, writtenAt });
    };
    await readArchive(archive, packed, take, this.limits);
    return files.sort((a, b) => (a.path < b.path ? -1 : 1));
  }
}

async function collected(content: AsyncIterable<Buffer>): Promise<Buffer> {
  const chunks: Buffer[] = [];
  for await (const chunk of content) chunks.push(chunk);
  return chunks.length === 1 ? chunks[0]! : Buffer.concat(chunks);
}

/** Of all files of an unpacked archive. */
export function unpackedBytes({ files }: Pick<KeptList, 'files'>): number {
  return files.reduce((sum, { bytes }) => sum + bytes, 0);
}

/** Synchronous: there are very many, and each takes no time. */
function looksUnchanged(folder: string, { path, bytes, writtenAt }: KeptFile): boolean {
  const found = statSync(`${folder}/${path}`, { throwIfNoEntry: false });
  return found?.size === bytes && found.mtimeMs === writtenAt;
}

async function names(folder: string): Promise<readonly string[]> {
  return readdir(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return [];
    throw error;
  });
}
