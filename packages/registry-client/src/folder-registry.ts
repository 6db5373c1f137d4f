import { readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { parseRegistryJson, RegistryError } from '@deep-ledger/core';
import { documentFile } from './document-file.js';

/** Documents in a folder, each in the file that `documentFile` names. */
export class FolderRegistry {
  private isThere: Promise<void> | null = null;

  constructor(private readonly folder: string) {}

  file(name: string): string {
    return join(this.folder, documentFile(name));
  }

  /** A document as it stands there; null: there is none. @throws RegistryError when there is no such folder, or a file is no JSON */
  async document(name: string): Promise<unknown> {
    this.isThere ??= this.lookForFolder();
    await this.isThere;
    const text = await this.read(this.file(name));
    return text === null ? null : parseRegistryJson(this.file(name), text);
  }

  private async lookForFolder(): Promise<void> {
    const found = await stat(this.folder).catch(() => null);
    if (found?.isDirectory() === true) return;
    throw new RegistryError(
      'REGISTRY_DOWN',
      `${this.folder} is no folder of registry documents. Name an existing folder, or an address that begins with http:// or https://.`,
    );
  }

  private async read(file: string): Promise<string | null> {
    try {
      return await readFile(file, 'utf8');
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
      throw new RegistryError(
        'REGISTRY_DOWN',
        `${file} cannot be read: ${(error as Error).message}.`,
      );
    }
  }
}
