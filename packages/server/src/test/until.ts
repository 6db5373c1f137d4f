import { vi } from 'vitest';

/** Nearly as long as a test may take, so that a busy machine is not taken for one where it never comes. */
const MOST_MS = 240_000;
const BETWEEN_MS = 50;

/**
 * Looks again and again until a look does not fail.
 * @returns what it found
 * @throws what the last look failed with, once the test is nearly out of time
 */
export function until<T>(look: () => T | Promise<T>): Promise<T> {
  return vi.waitFor(look, { timeout: MOST_MS, interval: BETWEEN_MS });
}
