import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { matchingPackages, readPackageRecord } from '@deep-ledger/core';
import type { PackageDocument } from './release-document.js';

export interface PublishedChange {
  readonly name: string;
  readonly version: string;
  readonly published: string;
  readonly withdrawn: boolean;
}

/** All documents of a registry, with the order in which releases came out. */
export class Catalogue {
  private readonly documents: ReadonlyMap<string, PackageDocument>;
  /** Oldest first; a cursor is a position in it. */
  private readonly log: readonly PublishedChange[];

  /** @param before the same registry earlier: its log goes on with all packages that are others by now */
  constructor(documents: readonly PackageDocument[], before: Catalogue | null = null) {
    const sorted = [...documents].sort((a, b) => (a.name < b.name ? -1 : 1));
    this.documents = new Map(sorted.map((document) => [document.name, document]));
    const isNew = (document: PackageDocument): boolean =>
      !isDeepStrictEqual(before?.get(document.name), document);
    const published = sorted
      .filter(isNew)
      .flatMap(({ name, releases }) =>
        releases.map(({ version, published, withdrawn }) => ({
          name,
          version,
          published,
          withdrawn,
        })),
      )
      .sort((a, b) => a.published.localeCompare(b.published) || a.name.localeCompare(b.name));
    this.log = [...(before?.log ?? []), ...published];
  }

  get(name: string): PackageDocument | null {
    return this.documents.get(name) ?? null;
  }

  /** Packages whose name or summary has the words, the best first. */
  search(
    query: string,
    page: number,
    size: number,
  ): { readonly total: number; readonly packages: readonly PackageDocument[] } {
    const found = matchingPackages(this.documents.values(), query);
    return { total: found.length, packages: found.slice((page - 1) * size, page * size) };
  }

  changesSince(cursor: number): {
    readonly cursor: number;
    readonly changes: readonly PublishedChange[];
  } {
    return { cursor: this.log.length, changes: this.log.slice(cursor) };
  }
}

/**
 * Reads a folder of documents, one `NAME.json` for each package.
 * @throws Error that names the file and the place in it, if one is no document
 */
export async function readCatalogue(folder: string): Promise<Catalogue> {
  const files = (await readdir(folder)).filter((file) => file.endsWith('.json')).sort();
  const documents = await Promise.all(
    files.map(async (file) => {
      const path = join(folder, file);
      const document: unknown = JSON.parse(await readFile(path, 'utf8'));
      const semver = readPackageRecord(document);
      const reading = semver.ok ? semver : readPackageRecord(document, 'dotted');
      if (!reading.ok)
        throw new Error(
          `${path}, at ${reading.problem.pointer || '/'}: ${reading.problem.message}`,
        );
      return document as PackageDocument;
    }),
  );
  return new Catalogue(documents);
}
