import { readFile } from 'node:fs/promises';
import type { InstallPlan } from '@deep-ledger/core';
import { Cache, install } from '@deep-ledger/install';

/* A process that does nothing but lay out a plan from a full cache, and says how much memory it took at its peak. */
const [root, cache, planFile] = process.argv.slice(2) as [string, string, string];
const plan = JSON.parse(await readFile(planFile, 'utf8')) as InstallPlan;
const terms = { lockSum: 'bench', target: null, isDev: true, folder: 'packages' };
await install(root, new Cache(cache), plan, terms, null);
process.stdout.write(String(Math.round(process.resourceUsage().maxRSS / 1024)));
