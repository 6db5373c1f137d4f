import { createHash } from 'node:crypto';

/**
 * A lockfile's sum as the core's `lockSum` has it, by Node.js itself: in a program that has just begun, the core's, which runs
 * in browsers too, takes as long as the rest of a check.
 */
export function lockSum(canonicalText: string): string {
  return createHash('sha256').update(canonicalText).digest('hex');
}
