import { readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import {
  parseRegistryJson,
  recordOfDocument,
  RegistryError,
  type PackageRecord,
  type VersionScheme,
} from '@deep-ledger/core';
import { documentFile } from './document-file.js';

/** Documents in a folder, each in the file that `documentFile` names. */
export class FolderRegistry {
  private isThere: Promise<void> | null = null;

  constructor(
    private readonly folder: string,
    private readonly versions: VersionScheme,
  ) {}

  /** @throws RegistryError when there is no such folder, or a file is no document */
  async record(name: string): Promise<PackageRecord | null> {
    this.isThere ??= this.lookForFolder();
    await this.isThere;
    return this.read(name);
  }

  private async lookForFolder(): Promise<void> {
    const found = await stat(this.folder).catch(() => null);
    if (found?.isDirectory() === true) return;
    throw new RegistryError(
      'REGISTRY_DOWN',
      `${this.folder} is no folder of registry documents. Name an existing folder, or an address that begins with http:// or https://.`,
    );
  }

  private async read(name: string): Promise<PackageRecord | null> {
    const file = join(this.folder, documentFile(name));
    let text: string;
    try {
      text = await readFile(file, 'utf8');
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
      throw new RegistryError(
        'REGISTRY_DOWN',
        `${file} cannot be read: ${(error as Error).message}.`,
      );
    }
    return recordOfDocument(file, name, parseRegistryJson(file, text), this.versions);
  }
}
