import { expect, test } from 'vitest';
import type { Lock, LockCopy } from '../api/client';
import { broughtBy, copiesIn, lockViewOf } from './lock-view';

function copy(name: string, version: string, more: Partial<LockCopy> = {}): LockCopy {
  return {
    name,
    version,
    bytes: 1,
    demands: 1,
    since: 0,
    isOneOfSeveral: false,
    isDeprecated: false,
    ...more,
  };
}

const LOCK = {
  commits: [{ commit: 'a' }, { commit: 'b' }],
  copies: [
    copy('scree-log', '2.9.4', { isOneOfSeveral: true, demands: 9 }),
    copy('scree-log', '3.2.4', { isOneOfSeveral: true, since: 1 }),
    copy('tarn-json', '1.3.1', { bytes: 50, since: null }),
  ],
} as unknown as Lock;

const names = (address: string): string[] =>
  copiesIn(LOCK, lockViewOf(new URLSearchParams(address))).map(
    ({ name, version }) => `${name} ${version}`,
  );

test.each([
  ['', ['scree-log 2.9.4', 'scree-log 3.2.4', 'tarn-json 1.3.1']],
  ['q=scree 3.', ['scree-log 3.2.4']],
  ['several=yes', ['scree-log 2.9.4', 'scree-log 3.2.4']],
  ['order=new', ['scree-log 3.2.4', 'scree-log 2.9.4', 'tarn-json 1.3.1']],
  ['order=demands', ['scree-log 2.9.4', 'scree-log 3.2.4', 'tarn-json 1.3.1']],
  ['order=bytes&q=n', ['tarn-json 1.3.1']],
  ['order=nonsense&q=tarn', ['tarn-json 1.3.1']],
])('the address "%s" shows %j', (address, expected) => {
  expect(names(address)).toEqual(expected);
});

test('the commit that brought a copy is told as far as history is known', () => {
  expect(broughtBy(LOCK, LOCK.copies[1]!)).toEqual({ commit: 'b' });
  expect(broughtBy(LOCK, LOCK.copies[2]!)).toBeNull();
});
