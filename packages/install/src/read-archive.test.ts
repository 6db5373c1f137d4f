import { Readable } from 'node:stream';
import { text } from 'node:stream/consumers';
import { gzipSync } from 'node:zlib';
import { describe, expect, test } from 'vitest';
import { readArchive, USUAL_LIMITS, type ArchiveLimits } from './read-archive.js';
import { archiveOf, type EntrySketch } from './test/archives.js';

/** Reads an archive from memory and as a stream; both say the same. */
async function read(
  bytes: Buffer,
  limits: ArchiveLimits = USUAL_LIMITS,
): Promise<Readonly<Record<string, string>>> {
  const sources = [bytes, Readable.from([bytes])];
  const [whole, streamed] = await Promise.allSettled(
    sources.map((source) => readFrom(source, bytes, limits)),
  );
  if (whole!.status === 'rejected') {
    expect(streamed).toMatchObject({ status: 'rejected', reason: whole!.reason as Error });
    throw whole!.reason;
  }
  expect(streamed).toEqual(whole);
  return whole!.value;
}

async function readFrom(
  source: Buffer | Readable,
  bytes: Buffer,
  limits: ArchiveLimits,
): Promise<Readonly<Record<string, string>>> {
  const files: Record<string, string> = {};
  await readArchive(
    source,
    bytes.length,
    async ({ path }, content) => {
      files[path] = await text(content);
    },
    limits,
  );
  return files;
}

test('files are given with their content, whatever folders say', async () => {
  const bytes = await archiveOf([
    { name: './', type: 'directory' },
    { name: 'src/', type: 'directory' },
    { name: 'src/index.js', text: 'one' },
    { name: './bin/run', mode: 0o755, text: 'two' },
    { name: `long/${'n'.repeat(200)}/${'m'.repeat(200)}.txt`, text: 'three' },
    { name: 'ñandú ☂.txt', text: 'four' },
  ]);
  expect(await read(bytes)).toEqual({
    'src/index.js': 'one',
    'bin/run': 'two',
    [`long/${'n'.repeat(200)}/${'m'.repeat(200)}.txt`]: 'three',
    'ñandú ☂.txt': 'four',
  });
});

describe('is refused for its entry, with its name:', () => {
  test.each<[string, readonly EntrySketch[], RegExp]>([
    ['an absolute path', [{ name: '/etc/passwd' }], /"\/etc\/passwd": its path is absolute/],
    ['a drive', [{ name: 'C:/a' }], /absolute/],
    ['a way out', [{ name: 'a/../../b' }], /leads out/],
    ['a way out by a folder', [{ name: '../', type: 'directory' }], /leads out/],
    ['a point in the middle', [{ name: 'a/./b' }], /no plain path/],
    ['a backslash', [{ name: 'a\\b' }], /backslash/],
    ['a control character', [{ name: 'a\nb' }], /control character/],
    ['a symbolic link', [{ name: 'l', type: 'symlink', linkname: '/etc' }], /links are not taken/],
    ['a hard link', [{ name: 'l', type: 'link', linkname: 'a' }], /links are not taken/],
    ['a device', [{ name: 'd', type: 'character-device' }], /character-device/],
    ['a pipe', [{ name: 'p', type: 'fifo' }], /fifo/],
    ['set-user-id', [{ name: 's', mode: 0o4755 }], /set-id bits/],
    ['set-group-id of a folder', [{ name: 's/', type: 'directory', mode: 0o2755 }], /set-id bits/],
    ['two names that differ in capitals', [{ name: 'Read.me' }, { name: 'READ.me' }], /capitals/],
    ['two folders that differ in capitals', [{ name: 'a/x' }, { name: 'A/y' }], /capitals/],
    ['two forms of one letter', [{ name: 'ñ' }, { name: 'n\u0303' }], /capitals/],
    ['a file twice', [{ name: 'a' }, { name: 'a' }], /there twice/],
    ['a file that is a folder', [{ name: 'a' }, { name: 'a/b' }], /there twice/],
    ['a long part', [{ name: 'x'.repeat(256) }], /more than 255 bytes/],
    ['a long path', [{ name: `${'x/'.repeat(520)}y` }], /more than 1024 bytes/],
  ])('%s', async (_, entries, message) => {
    const bytes = await archiveOf([{ name: 'first', text: 'x' }, ...entries]);
    await expect(read(bytes)).rejects.toThrow(message);
  });
});

test('too many files, too many bytes, and a small archive that unfolds to much are refused', async () => {
  const many = await archiveOf(Array.from({ length: 12 }, (_, i) => ({ name: `f${i}` })));
  await expect(read(many, { ...USUAL_LIMITS, mostFiles: 10 })).rejects.toThrow(
    /"f10": the archive has more than 10 files/,
  );
  const zeros = await archiveOf([{ name: 'zeros', text: '0'.repeat(3_000_000) }]);
  await expect(read(zeros, { ...USUAL_LIMITS, freeBytes: 1000 })).rejects.toThrow(
    /"zeros": it unfolds to more than/,
  );
  await expect(read(zeros, { ...USUAL_LIMITS, mostBytes: 1000 })).rejects.toThrow(/1000 bytes/);
  expect(Object.keys(await read(zeros))).toEqual(['zeros']);
  const large = await archiveOf([{ name: 'large', text: '0'.repeat(9_000_000) }]);
  expect((await read(large))['large']).toHaveLength(9_000_000);
});

test('what is no archive, or ends too early, is said', async () => {
  const whole = await archiveOf([{ name: 'a', text: 'x'.repeat(50_000) }]);
  await expect(read(Buffer.from('hello'))).rejects.toThrow(/cannot be read/);
  await expect(read(whole.subarray(0, whole.length >> 1))).rejects.toThrow(/cannot be read/);
  await expect(read(gzipSync('no tar'.repeat(200)))).rejects.toThrow(/cannot be read/);
});
