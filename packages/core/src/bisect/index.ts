export { findCulprits, type Search, type SearchProgress, type Verdict } from './find-culprits.js';
export { LockDifferences, type LockDifference } from './lock-differences.js';
export { LockMix, type MixedLock } from './lock-mix.js';
