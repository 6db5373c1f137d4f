import { setTimeout } from 'node:timers/promises';

/**
 * Waits for something, but not for long; it goes on by itself.
 * @param work that does not fail
 * @returns whether it ended
 */
export async function endsWithin(work: Promise<unknown>, ms: number): Promise<boolean> {
  const waiting = new AbortController();
  const isOver = await Promise.race([
    work.then(() => true),
    setTimeout(ms, false, { signal: waiting.signal }).catch(() => false),
  ]);
  waiting.abort();
  return isOver;
}
