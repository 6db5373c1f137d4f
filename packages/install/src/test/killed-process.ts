import { writeSync } from 'node:fs';
import type { InstallPlan } from '@deep-ledger/core';
import { Cache } from '../cache.js';
import { archivesOf } from '../fetch-archive.js';
import { install } from '../install.js';
import { TERMS } from './small-plan.js';

/** What a process of a test does; it says a line at every step, so that it can be killed at any. */
export interface Orders {
  readonly does: 'install' | 'clean';
  readonly root: string;
  readonly cache: string;
  readonly plan: InstallPlan;
  readonly url: string;
  /** Root may write everywhere; a process that is to see what others may not gives that up. */
  readonly asNobody?: boolean;
}

const step = (): void => void writeSync(1, '.\n');
const { does, root, cache: folder, plan, url, asNobody } = JSON.parse(process.argv[2]!) as Orders;
const NOBODY = 65_534;
if (asNobody === true && process.getuid!() === 0) {
  process.setgid!(NOBODY);
  process.setuid!(NOBODY);
}
const cache = new Cache(folder);
step();
if (does === 'clean')
  for (const tree of await cache.list()) {
    await cache.remove(tree);
    step();
  }
else {
  const place = { address: url, token: null, user: null, password: null, ca: null };
  const archives = archivesOf(place);
  const options = { fetching: step, laying: step };
  await install(root, cache, plan, TERMS, () => archives, options);
}
step();
