import { closeSync, openSync, rmSync, writeSync } from 'node:fs';
import { copyFile, readFile, stat } from 'node:fs/promises';

/** An archive that has come: its bytes where they are few, else the file that it was written to. */
export type Arrived = Buffer | string;

/** An archive up to this size stays in memory until it is checked; several dozen may be under way at once. */
export const IN_MEMORY_BYTES = 1024 ** 2;

/**
 * The part of an archive that has come so far; it is kept while the rest is asked for again. All calls are synchronous:
 * each chunk takes no time.
 */
export class Arrival {
  private chunks: Buffer[] = [];
  private isInFile = false;
  bytes = 0;

  /** @param file of this archive alone, written where it turns out to be large */
  constructor(private readonly file: string) {}

  /** The next chunk is the first one again. */
  restart(): void {
    if (this.isInFile) rmSync(this.file, { force: true });
    this.chunks = [];
    this.isInFile = false;
    this.bytes = 0;
  }

  add(chunk: Buffer): void {
    this.bytes += chunk.length;
    if (!this.isInFile && this.bytes <= IN_MEMORY_BYTES) {
      this.chunks.push(chunk);
      return;
    }
    const file = openSync(this.file, this.isInFile ? 'a' : 'w');
    this.isInFile = true;
    try {
      for (const one of [...this.chunks, chunk]) writeWhole(file, one);
    } finally {
      closeSync(file);
    }
    this.chunks = [];
  }

  whole(): Arrived {
    return this.isInFile ? this.file : Buffer.concat(this.chunks);
  }
}

/** Brings an archive that lies in a file, so that nobody changes it from now on. @param into used where it is large */
export async function arrivedFrom(
  file: string,
  into: string,
  tell: (bytes: number) => void,
): Promise<Arrived> {
  const { size } = await stat(file);
  if (size > IN_MEMORY_BYTES) await copyFile(file, into);
  const arrived = size > IN_MEMORY_BYTES ? into : await readFile(file);
  tell(size);
  return arrived;
}

function writeWhole(file: number, chunk: Buffer): void {
  for (let at = 0; at < chunk.length;) at += writeSync(file, chunk, at);
}
