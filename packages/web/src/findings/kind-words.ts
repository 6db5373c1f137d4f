import type { Finding } from '../api/client';

/** The kinds of findings as people call them. */
export const KIND_WORDS: Readonly<Record<Finding['kind'], string>> = {
  unreadable: 'unreadable',
  tampered: 'tampered',
  withdrawn: 'withdrawn',
  'other-registry': 'other registry',
  unlocked: 'unlocked',
  orphaned: 'orphaned',
  platform: 'platform',
  'unmet-peer': 'unmet peer',
  licence: 'licence',
  'out-of-line': 'out of line',
  scattered: 'scattered',
  'lockstep-broken': 'lockstep broken',
  'lapsed-exception': 'lapsed exception',
  'several-copies': 'several copies',
  cycle: 'cycle',
  confusable: 'confusable',
  undeclared: 'undeclared',
  unused: 'unused',
  redundant: 'redundant',
  deprecated: 'deprecated',
  'too-new': 'too new',
  loose: 'loose',
  'idle-shared': 'idle shared',
  behind: 'behind',
};
