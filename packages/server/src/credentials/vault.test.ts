import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { settingsFrom, type Settings } from '../settings.js';
import { LockedOtherwise, Vault } from './vault.js';

const CREDENTIALS = { user: 'gate', password: 's/cret: ü' };

let dataFolder: string;
beforeEach(async () => {
  dataFolder = await mkdtemp(join(tmpdir(), 'vault-'));
});
afterEach(() => rm(dataFolder, { recursive: true }));

function vault(secret: string | null): Vault {
  const settings: Settings = {
    ...settingsFrom({ DATABASE_URL: 'postgres://x' }),
    dataFolder,
    secret,
  };
  return new Vault(settings);
}

test('what is locked says nothing, is never the same twice, and is unlocked after a restart', async () => {
  const [one, other] = [await vault(null).lock(CREDENTIALS), await vault(null).lock(CREDENTIALS)];
  expect(one).not.toBe(other);
  expect(Buffer.from(one, 'base64').toString('latin1')).not.toMatch(/gate|cret/);
  expect(await vault(null).unlock(one)).toEqual(CREDENTIALS);
  expect((await stat(join(dataFolder, 'secret.key'))).mode & 0o077).toBe(0);
});

test('another key, a changed text and a cut one are told, and give nothing', async () => {
  const locked = await vault('one secret').lock(CREDENTIALS);
  expect(await vault('one secret').unlock(locked)).toEqual(CREDENTIALS);
  await expect(vault('another').unlock(locked)).rejects.toThrow(LockedOtherwise);
  const bytes = Buffer.from(locked, 'base64');
  bytes[bytes.length - 1]! ^= 1;
  for (const text of [bytes.toString('base64'), locked.slice(0, 12), ''])
    await expect(vault('one secret').unlock(text)).rejects.toThrow(LockedOtherwise);
});
