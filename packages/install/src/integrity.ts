import { createHash } from 'node:crypto';
import { createReadStream, readFileSync, statSync } from 'node:fs';
import type { Arrived } from './arrival.js';
import { InstallTrouble } from './install-trouble.js';

/** The hash that an archive is checked by. */
export interface Digest {
  readonly algorithm: 'sha256' | 'sha384' | 'sha512';
  readonly hex: string;
}

/** The bytes of a file that are read at once; a smaller file is read in one go. */
const CHUNK_BYTES = 1 << 20;

const STRENGTH = ['sha256', 'sha384', 'sha512'] as const;

/**
 * The strongest hash of a Subresource Integrity text (W3C); of several of one strength the first.
 * @throws InstallTrouble where there is none
 */
export function digestOf(integrity: string): Digest {
  const found = integrity.split(/\s+/).flatMap((one): Digest[] => {
    const at = one.indexOf('-');
    const algorithm = STRENGTH.find((name) => name === one.slice(0, at));
    const text = one.slice(at + 1).split('?')[0]!;
    return algorithm === undefined
      ? []
      : [{ algorithm, hex: Buffer.from(text, 'base64').toString('hex') }];
  });
  const best = found.sort(
    (a, b) => STRENGTH.indexOf(b.algorithm) - STRENGTH.indexOf(a.algorithm),
  )[0];
  if (best !== undefined) return best;
  throw new InstallTrouble(`"${integrity}" is no integrity that can be checked.`);
}

/** Hash, in hexadecimal, and size of a file; null: it is not there. */
export async function hashFile(
  path: string,
  algorithm: Digest['algorithm'],
): Promise<{ readonly hex: string; readonly bytes: number } | null> {
  const hash = createHash(algorithm);
  let bytes = 0;
  try {
    const size = statSync(path, { throwIfNoEntry: false })?.size;
    if (size === undefined) return null;
    if (size <= CHUNK_BYTES) {
      const whole = readFileSync(path);
      return { hex: hash.update(whole).digest('hex'), bytes: whole.length };
    }
    for await (const chunk of createReadStream(path, { highWaterMark: CHUNK_BYTES })) {
      hash.update(chunk as Buffer);
      bytes += (chunk as Buffer).length;
    }
    return { hex: hash.digest('hex'), bytes };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw error;
  }
}

/** The same of an archive; null: its file is not there. */
export function hashArchive(
  archive: Arrived,
  algorithm: Digest['algorithm'],
): Promise<{ readonly hex: string; readonly bytes: number } | null> {
  if (typeof archive === 'string') return hashFile(archive, algorithm);
  const hex = createHash(algorithm).update(archive).digest('hex');
  return Promise.resolve({ hex, bytes: archive.length });
}

/** A digest as part of a path. */
export function digestName({ algorithm, hex }: Digest): string {
  return `${algorithm}-${hex}`;
}
