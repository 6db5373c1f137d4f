import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { createApp } from '../create-app.js';
import type { TestServer } from './test-server.js';

/** Does something while another process would work on the same jobs. */
export async function whileAnotherWorks(
  { settings }: TestServer,
  something: () => Promise<void>,
): Promise<void> {
  const dataFolder = await mkdtemp(join(tmpdir(), 'another-worker-'));
  const worker = await createApp(
    { ...settings, works: true, dataFolder },
    pino({ level: 'silent' }),
  );
  try {
    await something();
  } finally {
    await worker.close();
    await rm(dataFolder, { recursive: true });
  }
}
