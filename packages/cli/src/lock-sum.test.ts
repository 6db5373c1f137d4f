import { lockSum as lockSumOfCore } from '@deep-ledger/core';
import { expect, test } from 'vitest';
import { lockSum } from './lock-sum.js';

test.each(['', 'format = 3\n', '# føhn\n🏔\n', 'x'.repeat(10_000)])(
  'the sum of %j is the one that the core has',
  (text) => {
    expect(lockSum(text)).toBe(lockSumOfCore(text));
  },
);
