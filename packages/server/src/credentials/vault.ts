import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto';
import { mkdir, open, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Inject, Injectable } from '@nestjs/common';
import type { Credentials, Token } from '@deep-ledger/registry-client';
import { SETTINGS, type Settings } from '../settings.js';

/** Another key locked these credentials: they have to be given again. */
export class LockedOtherwise extends Error {
  constructor() {
    super(
      'Its credentials were locked with another key. Open the workspace again with an address that holds them.',
    );
  }
}

const CIPHER = 'aes-256-gcm';
const KEY_BYTES = 32;
const NONCE_BYTES = 12;
const TAG_BYTES = 16;

/**
 * Keeps credentials so that the database alone does not give them away: AES-256 in Galois/Counter Mode (NIST SP
 * 800-38D) under a key that lies in the data folder, or is set where several servers share a database.
 */
@Injectable()
export class Vault {
  private key: Promise<Buffer> | null = null;

  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  async lock(credentials: Credentials | Token): Promise<string> {
    const nonce = randomBytes(NONCE_BYTES);
    const cipher = createCipheriv(CIPHER, await this.secretKey(), nonce);
    const text = JSON.stringify(credentials);
    const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString('base64');
  }

  /** @throws LockedOtherwise */
  async unlock<C extends Credentials | Token>(locked: string): Promise<C> {
    const key = await this.secretKey();
    const all = Buffer.from(locked, 'base64');
    const nonce = all.subarray(0, NONCE_BYTES);
    const tag = all.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES);
    try {
      const decipher = createDecipheriv(CIPHER, key, nonce).setAuthTag(tag);
      const opened = [decipher.update(all.subarray(NONCE_BYTES + TAG_BYTES)), decipher.final()];
      return JSON.parse(Buffer.concat(opened).toString('utf8')) as C;
    } catch {
      throw new LockedOtherwise();
    }
  }

  private secretKey(): Promise<Buffer> {
    const { secret, dataFolder } = this.settings;
    this.key ??=
      secret === null
        ? keyIn(dataFolder)
        : Promise.resolve(createHash('sha256').update(secret).digest());
    return this.key;
  }
}

/** The key of a data folder, made where there is none yet. */
async function keyIn(folder: string): Promise<Buffer> {
  const file = join(folder, 'secret.key');
  await mkdir(folder, { recursive: true, mode: 0o700 });
  try {
    const made = await open(file, 'wx', 0o600);
    const key = randomBytes(KEY_BYTES);
    await made.writeFile(key);
    await made.close();
    return key;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    return readFile(file);
  }
}
