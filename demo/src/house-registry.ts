import { mkdir, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { buildArchive } from '@deep-ledger/registry';
import { readPackageRecord, type PackageRecord } from '@deep-ledger/core';
import { expandPackage } from './expand-package.js';
import type { PackageLine } from './package-line.js';

/** Where documents stand below the house registry's address. */
export const HOUSE_DOCUMENTS = '/goods/{+name}';

/**
 * Writes a registry that speaks its own JSON: `goods/NAME.json` with the releases of a package in a list, and the archives
 * below `files/`.
 * @returns what its documents mean
 */
export async function writeHouseRegistry(
  lines: readonly PackageLine[],
  folder: string,
): Promise<ReadonlyMap<string, PackageRecord>> {
  const records = new Map<string, PackageRecord>();
  for (const line of lines) {
    const document = await expandPackage(line);
    const reading = readPackageRecord(document);
    if (!reading.ok) throw new Error(`${line.name}: ${reading.problem.message}`);
    records.set(line.name, reading.record);
    const all = document.releases.map(({ version, published, licence, needs, archive }) => ({
      v: version,
      day: published.slice(0, 10),
      terms: licence,
      wants: needs,
      file: { at: `/files/${line.name}/${version}.tgz`, sum: hexOf(archive.integrity) },
    }));
    const whole = { goods: line.name, about: line.summary, all };
    await write(join(folder, 'goods', `${line.name}.json`), `${JSON.stringify(whole, null, 1)}\n`);
    for (const { version, needs } of document.releases) {
      const { name, summary } = line;
      const { bytes } = await buildArchive({
        name,
        version,
        summary,
        needs: Object.keys(needs),
      });
      await write(join(folder, 'files', line.name, `${version}.tgz`), bytes);
    }
  }
  return records;
}

async function write(file: string, content: string | Uint8Array): Promise<void> {
  await mkdir(dirname(file), { recursive: true });
  await writeFile(file, content);
}

function hexOf(integrity: string): string {
  return Buffer.from(integrity.slice(integrity.indexOf('-') + 1), 'base64').toString('hex');
}
