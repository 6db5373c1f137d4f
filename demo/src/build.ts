import { mkdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { readPackageRecord, type PackageRecord } from '@deep-ledger/core';
import { buildRepository } from './build-repository.js';
import { expandPackage } from './expand-package.js';
import { writeHouseRegistry } from './house-registry.js';
import { LIBRARY } from './library.js';
import { PACKAGES } from './packages.js';
import { buildWendholm } from './wendholm.js';
import { HOUSE_PACKAGES, SEA_PACKAGES } from './wendholm-packages.js';

const { values } = parseArgs({ options: { out: { type: 'string' } } });
if (values.out === undefined) {
  process.stderr.write(
    'usage: build.js --out DIR    writes DIR/registry, DIR/house, DIR/brindlepeak.git and DIR/wendholm.git\n',
  );
  process.exit(2);
}

const registry = join(values.out, 'registry');
await rm(registry, { recursive: true, force: true });
await mkdir(registry, { recursive: true });
const records = new Map<string, PackageRecord>();
for (const line of [...PACKAGES, ...LIBRARY, ...SEA_PACKAGES]) {
  const document = await expandPackage(line);
  const reading = readPackageRecord(document);
  if (!reading.ok)
    throw new Error(`${line.name}${reading.problem.pointer}: ${reading.problem.message}`);
  records.set(line.name, reading.record);
  await writeFile(join(registry, `${line.name}.json`), `${JSON.stringify(document, null, 1)}\n`);
}
const sources = fileURLToPath(new URL('../repository', import.meta.url));
await buildRepository(sources, records, join(values.out, 'brindlepeak.git'));
const house = join(values.out, 'house');
await rm(house, { recursive: true, force: true });
const inner = await writeHouseRegistry(HOUSE_PACKAGES, house);
const ferries = fileURLToPath(new URL('../wendholm', import.meta.url));
const all = new Map([...records, ...inner]);
await buildWendholm(ferries, all, join(values.out, 'wendholm.git'));
