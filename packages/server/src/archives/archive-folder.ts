import { mkdir, readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Inject, Injectable } from '@nestjs/common';
import { carriedFile, carry, isWhole, type FetchArchive } from '@deep-ledger/install';
import { SETTINGS, type Settings } from '../settings.js';

/** How long files of a process that has gone are left alone. */
const LEFT_MS = 24 * 60 * 60_000;

/**
 * The archives on disk, as in a folder that `fetch --into` fills. All servers and workers on one database share it. What stands
 * under the name of an archive was whole when it got it.
 */
@Injectable()
export class ArchiveFolder {
  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  file(integrity: string): string {
    return carriedFile(this.settings.archivesFolder, integrity);
  }

  /** Fetches one, unless it is there and whole. @returns its bytes @throws InstallTrouble, RegistryError */
  async keep(
    one: { readonly archive: string; readonly integrity: string },
    from: FetchArchive,
  ): Promise<number> {
    await mkdir(this.settings.archivesFolder, { recursive: true, mode: 0o700 });
    await carry(this.settings.archivesFolder, one, from);
    return (await stat(this.file(one.integrity))).size;
  }

  /** Hashes one again. O(its bytes). */
  isSound(integrity: string): Promise<boolean> {
    return isWhole(this.file(integrity), integrity);
  }

  async remove(integrity: string): Promise<void> {
    await rm(this.file(integrity), { force: true });
  }

  /**
   * Takes away what a process has left behind that ended: what was being fetched, and what had its name and was not noted yet.
   * @param digests of all that are noted
   */
  async tidy(digests: ReadonlySet<string>): Promise<void> {
    const folder = this.settings.archivesFolder;
    for (const name of await readdir(folder).catch(() => [])) {
      if (digests.has(name.split('.')[0]!)) continue;
      const file = join(folder, name);
      const age = await stat(file).then(
        ({ mtimeMs }) => Date.now() - mtimeMs,
        () => 0,
      );
      if (age > LEFT_MS) await rm(file, { force: true });
    }
  }
}
