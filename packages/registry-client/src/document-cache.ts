import { createHash } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { homedir } from 'node:os';
import { dirname, join } from 'node:path';
import { documentFile } from './document-file.js';

/** A document as a registry gave it; body null: it has no such package. */
export interface CachedDocument {
  readonly etag: string | null;
  readonly body: unknown;
}

/** Folder for what can be fetched again, as the XDG base directory specification has it. */
export function userCacheFolder(env: Readonly<Record<string, string | undefined>>): string {
  const base = env['XDG_CACHE_HOME'];
  return join(base?.startsWith('/') ? base : join(homedir(), '.cache'), 'deep-ledger', 'registry');
}

/**
 * Documents of one registry on disk. A file that cannot be read or written is as if it were not there: it is a
 * cache. Each is put in its place whole, so that commands that run at once do not disturb each other.
 */
export class DocumentCache {
  private readonly folder: string;

  /** @param address without credentials */
  constructor(cacheFolder: string, address: string) {
    const name = createHash('sha256').update(address).digest('hex').slice(0, 24);
    this.folder = join(cacheFolder, name);
  }

  async read(name: string): Promise<CachedDocument | null> {
    try {
      const read = JSON.parse(await readFile(this.fileOf(name), 'utf8')) as CachedDocument & {
        name: string;
      };
      return read.name === name ? { etag: read.etag, body: read.body } : null;
    } catch {
      return null;
    }
  }

  async write(name: string, document: CachedDocument): Promise<void> {
    const file = this.fileOf(name);
    const partial = `${file}.${process.pid}`;
    try {
      await mkdir(dirname(file), { recursive: true });
      await writeFile(partial, JSON.stringify({ name, ...document }), { mode: 0o600 });
      await rename(partial, file);
    } catch {
      // A full or read-only disk costs time, nothing else.
    }
  }

  private fileOf(name: string): string {
    return join(this.folder, documentFile(name));
  }
}
