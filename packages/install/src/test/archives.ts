import { createHash } from 'node:crypto';
import { gzipSync } from 'node:zlib';
import { pack, type Header } from 'tar-stream';

/** An entry of an archive, told briefly. */
export type EntrySketch = Partial<Header> & { readonly name: string; readonly text?: string };

/** A tar.gz of these entries. */
export async function archiveOf(entries: readonly EntrySketch[]): Promise<Buffer> {
  const tar = pack();
  for (const { text, ...header } of entries) tar.entry(header as Header, text ?? '');
  tar.finalize();
  const chunks: Buffer[] = [];
  for await (const chunk of tar) chunks.push(chunk as Buffer);
  return gzipSync(Buffer.concat(chunks));
}

export function integrityOf(bytes: Buffer): string {
  return `sha512-${createHash('sha512').update(bytes).digest('base64')}`;
}
