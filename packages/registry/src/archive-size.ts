import { createHash } from 'node:crypto';

const SMALLEST = 20_000;
const LARGEST = 1_900_000;
/** How far releases of one package differ in size. */
const SPREAD = 0.12;

/**
 * How many bytes a release's archive has inside, about as real ones have: packages from 20 kB to 2 MB, many small and few
 * large, releases of one package alike. The same for the same name and version.
 */
export function archiveSize(name: string, version: string): number {
  const size = SMALLEST * (LARGEST / SMALLEST) ** fractionOf(name);
  return Math.round(size * (1 + SPREAD * (2 * fractionOf(`${name} ${version}`) - 1)));
}

/** A number from 0 to 1 that looks drawn by lot. */
function fractionOf(text: string): number {
  return createHash('sha256').update(text).digest().readUInt32BE(0) / 2 ** 32;
}
