import { createHash } from 'node:crypto';
import { pack } from 'tar-stream';
import { archiveSize } from './archive-size.js';
import { storedGzip } from './stored-gzip.js';

/** What an archive is made of: nothing but the release's own words, so its bytes never change. */
export interface ArchiveContent {
  readonly name: string;
  readonly version: string;
  readonly summary: string;
  /** Packages that it needs to run, by name. */
  readonly needs: readonly string[];
}

export interface Archive {
  readonly bytes: Buffer;
  /** W3C Subresource Integrity over the bytes. */
  readonly integrity: string;
}

/** Fixed, so that the same content gives the same bytes on every machine and day. */
const MODIFIED = new Date('2000-01-01T00:00:00Z');

/** Builds a release's tar.gz. It is stored and not compressed, so that an archive has the size of what is in it. */
export async function buildArchive({
  name,
  version,
  summary,
  needs,
}: ArchiveContent): Promise<Archive> {
  const tar = pack();
  const add = (path: string, text: string): void => {
    tar.entry({ name: path, mtime: MODIFIED, mode: 0o644, uid: 0, gid: 0 }, text);
  };
  add('README.md', `# ${name} ${version}\n\n${summary}\n`);
  add('index.js', moduleText(name, version, needs));
  add('docs/handbook.txt', handbook(name, version, summary));
  tar.finalize();
  const chunks: Buffer[] = [];
  for await (const chunk of tar) chunks.push(chunk as Buffer);
  const bytes = storedGzip(Buffer.concat(chunks), MODIFIED);
  const integrity = `sha512-${createHash('sha512').update(bytes).digest('base64')}`;
  return { bytes, integrity };
}

/** A module that says what it is, and what it gets where it asks for what it needs. */
function moduleText(name: string, version: string, needs: readonly string[]): string {
  return [
    "'use strict';",
    `exports.name = ${JSON.stringify(name)};`,
    `exports.version = ${JSON.stringify(version)};`,
    `exports.uses = () => ${JSON.stringify([...needs].sort())}.map((name) => require(name));`,
    '',
  ].join('\n');
}

/** Text that gives the archive the size of a real one. */
function handbook(name: string, version: string, summary: string): string {
  const line = `${name} ${version}: ${summary}. `;
  return line.repeat(Math.ceil(archiveSize(name, version) / line.length));
}
