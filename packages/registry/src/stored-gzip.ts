import { crc32 } from 'node:zlib';

/** The most that one stored block of DEFLATE holds: its length has two bytes. */
const MOST_OF_BLOCK = 0xffff;
const LAST_BLOCK = 1;
const HEAD_BYTES = 10;
const TAIL_BYTES = 8;
const BLOCK_HEAD_BYTES = 5;

/**
 * Bytes as a gzip file (RFC 1952) that stores them as they are (RFC 1951, 3.2.4): the same on every machine, whatever
 * zlib it has.
 * @param modified with whole seconds
 */
export function storedGzip(bytes: Buffer, modified: Date): Buffer {
  const blocks = Math.max(1, Math.ceil(bytes.length / MOST_OF_BLOCK));
  const file = Buffer.alloc(HEAD_BYTES + blocks * BLOCK_HEAD_BYTES + bytes.length + TAIL_BYTES);
  // Magic number, DEFLATE, no flags; then when it was made, that it was made fast, and on Unix.
  file.set([0x1f, 0x8b, 8, 0]);
  file.writeUInt32LE(modified.getTime() / 1000, 4);
  file.set([4, 3], 8);
  let at = HEAD_BYTES;
  for (let block = 0; block < blocks; block++) {
    const part = bytes.subarray(block * MOST_OF_BLOCK, (block + 1) * MOST_OF_BLOCK);
    file[at] = block === blocks - 1 ? LAST_BLOCK : 0;
    file.writeUInt16LE(part.length, at + 1);
    file.writeUInt16LE(~part.length & 0xffff, at + 3);
    file.set(part, at + BLOCK_HEAD_BYTES);
    at += BLOCK_HEAD_BYTES + part.length;
  }
  file.writeUInt32LE(crc32(bytes), at);
  file.writeUInt32LE(bytes.length % 2 ** 32, at + 4);
  return file;
}
