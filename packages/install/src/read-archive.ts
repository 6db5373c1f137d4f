import { createGunzip, gunzipSync } from 'node:zlib';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { extract, type Extract, type Header } from 'tar-stream';
import { InstallTrouble } from './install-trouble.js';

/** What an archive may hold at most. */
export interface ArchiveLimits {
  readonly mostFiles: number;
  /** Of all files, unpacked. */
  readonly mostBytes: number;
  /** Unpacked bytes for each packed one. A small archive may unfold to `freeBytes` all the same. */
  readonly mostTimes: number;
  readonly freeBytes: number;
}

export const USUAL_LIMITS: ArchiveLimits = {
  mostFiles: 50_000,
  mostBytes: 2 * 1024 ** 3,
  mostTimes: 200,
  freeBytes: 64 * 1024 ** 2,
};

/** A file of an archive. */
export interface ArchiveFile {
  /** Below the archive's own root, with `/` between folders. */
  readonly path: string;
  readonly isExecutable: boolean;
  readonly bytes: number;
}

/** An archive that unfolds to no more than this is unfolded in one go. */
const AT_ONCE_BYTES = 8 * 1024 ** 2;
const LONGEST_PATH = 1024;
const LONGEST_NAME = 255;
/** Set-user-id, set-group-id. */
const SPECIAL_BITS = 0o6000;

/**
 * Reads a tar.gz entry by entry. Files and folders alone are taken; whatever could reach out of the folder that it is unpacked
 * into, or is larger than any package is, is refused with its name.
 * @param source its bytes, or a stream of them
 * @param packedBytes size of the archive
 * @param take stores one file; the next one comes when it is done
 * @throws InstallTrouble
 */
export async function readArchive(
  source: Buffer | Readable,
  packedBytes: number,
  take: (file: ArchiveFile, content: Readable) => Promise<void>,
  limits: ArchiveLimits = USUAL_LIMITS,
): Promise<void> {
  const most = Math.min(
    limits.mostBytes,
    Math.max(limits.freeBytes, packedBytes * limits.mostTimes),
  );
  const unpacking = extract();
  const fed = feed(source, unpacking);
  const seen = new Entries();
  let bytes = 0;
  try {
    for await (const entry of unpacking) {
      const { header } = entry;
      const path = checkedPath(header);
      bytes += header.size ?? 0;
      if (bytes > most) refuse(header, `it unfolds to more than ${most} bytes`);
      if (header.type === 'directory') {
        seen.folder(header, path);
        entry.resume();
      } else {
        seen.file(header, path);
        if (seen.files > limits.mostFiles)
          refuse(header, `the archive has more than ${limits.mostFiles} files`);
        await take(
          { path, isExecutable: ((header.mode ?? 0) & 0o111) !== 0, bytes: header.size ?? 0 },
          entry as unknown as Readable,
        );
      }
    }
  } catch (error) {
    unpacking.destroy();
    const cause = await fed;
    if (error instanceof InstallTrouble) throw error;
    throw broken(cause ?? error);
  }
  const error = await fed;
  if (error !== null) throw broken(error);
}

/** Feeds an archive, unfolded. @returns what stood in the way; null: nothing */
async function feed(source: Buffer | Readable, unpacking: Extract): Promise<unknown> {
  const isWhole = Buffer.isBuffer(source);
  try {
    const unfolded = isWhole ? unfoldedAtOnce(source) : null;
    if (unfolded !== null) unpacking.end(unfolded);
    else await pipeline(isWhole ? [source] : source, createGunzip(), unpacking);
    return null;
  } catch (error) {
    unpacking.destroy();
    return error;
  }
}

/** Null where it unfolds to much. */
function unfoldedAtOnce(bytes: Buffer): Buffer | null {
  try {
    return gunzipSync(bytes, { maxOutputLength: AT_ONCE_BYTES });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE') return null;
    throw error;
  }
}

function broken(error: unknown): unknown {
  const { code, message } = error as NodeJS.ErrnoException;
  // An error of the disk is no fault of the archive.
  if (code !== undefined && /^E[A-Z]+$/.test(code) && !code.startsWith('ERR_')) return error;
  return new InstallTrouble(`The archive cannot be read: ${message}.`);
}

function refuse({ name }: Header, why: string): never {
  throw new InstallTrouble(`The archive is refused for its entry ${JSON.stringify(name)}: ${why}.`);
}

/** The path of an entry below the root. */
function checkedPath(header: Header): string {
  const { name, type, mode = 0 } = header;
  if (type === 'symlink' || type === 'link')
    refuse(header, `it is a link to ${JSON.stringify(header.linkname)}, and links are not taken`);
  if (type !== 'file' && type !== 'directory' && type !== 'contiguous-file')
    refuse(header, `it is a ${String(type)}, and only files and folders are taken`);
  if ((mode & SPECIAL_BITS) !== 0) refuse(header, 'it would run as somebody else (set-id bits)');
  if (Buffer.byteLength(name) > LONGEST_PATH)
    refuse(header, `its name has more than ${LONGEST_PATH} bytes`);
  if (name.startsWith('/') || /^[A-Za-z]:/.test(name)) refuse(header, 'its path is absolute');
  if (/[\\\p{Cc}]/u.test(name)) refuse(header, 'its name has a backslash or a control character');
  const parts = name.replace(/\/+$/, '').split('/');
  if (parts[0] === '.' && parts.length > 1) parts.shift();
  if (parts.some((part) => part === '..' || part === '.' || part === ''))
    if (!(type === 'directory' && parts.join('') === '.'))
      refuse(header, 'its path leads out of the archive, or is no plain path');
  if (parts.some((part) => Buffer.byteLength(part) > LONGEST_NAME))
    refuse(header, `a part of its path has more than ${LONGEST_NAME} bytes`);
  return parts.join('/');
}

/** The entries so far, as a system sees them that does not tell capitals apart. */
class Entries {
  private readonly known = new Map<string, { readonly path: string; readonly isFile: boolean }>();
  files = 0;

  folder(header: Header, path: string): void {
    if (path !== '.') this.add(header, path, false);
  }

  file(header: Header, path: string): void {
    this.files++;
    this.add(header, path, true);
  }

  private add(header: Header, path: string, isFile: boolean): void {
    const parts = path.split('/');
    for (let depth = 1; depth <= parts.length; depth++) {
      const part = parts.slice(0, depth).join('/');
      const isLast = depth === parts.length;
      const key = part.normalize('NFC').toLowerCase();
      const before = this.known.get(key);
      if (before === undefined) this.known.set(key, { path: part, isFile: isLast && isFile });
      else if (before.path !== part)
        refuse(header, `it differs from ${JSON.stringify(before.path)} in its capitals alone`);
      else if (before.isFile || (isLast && isFile)) refuse(header, 'it is there twice');
    }
  }
}
