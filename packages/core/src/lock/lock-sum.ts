import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';

/** SHA-256 of a lockfile's canonical text, in hexadecimal; shown as its first eight digits. */
export function lockSum(canonicalText: string): string {
  return bytesToHex(sha256(utf8ToBytes(canonicalText)));
}
