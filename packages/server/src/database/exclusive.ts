import { Inject, Injectable } from '@nestjs/common';
import { Client } from 'pg';
import { SETTINGS, type Settings } from '../settings.js';

/**
 * Does something while no other process does that has the same key and database. The lock is the database's own
 * and depends on a connection that is opened for it, so it is free again when a server is killed.
 * @param patienceMs how long it waits for another; null: as long as it takes
 * @throws LockTaken
 */
export async function exclusively<T>(
  databaseUrl: string,
  key: string,
  work: () => Promise<T>,
  patienceMs: number | null = null,
): Promise<T> {
  const client = new Client({ connectionString: databaseUrl });
  // A connection that breaks is told by the next query; without a listener it would end the program.
  client.on('error', () => {});
  await client.connect();
  try {
    await take(client, key, patienceMs);
    return await work();
  } finally {
    await client.end().catch(() => {});
  }
}

/** Another process has had the lock for longer than anybody waits. */
export class LockTaken extends Error {}

/** PostgreSQL's code for a lock that was not free in time. */
const LOCK_NOT_AVAILABLE = '55P03';

/** @throws LockTaken */
async function take(client: Client, key: string, patienceMs: number | null): Promise<void> {
  // A limit of 0 would be none.
  if (patienceMs !== null) await client.query(`SET lock_timeout = ${Math.max(1, patienceMs)}`);
  try {
    await client.query('SELECT pg_advisory_lock(hashtextextended($1, 0))', [key]);
  } catch (error) {
    if ((error as { code?: unknown }).code === LOCK_NOT_AVAILABLE) throw new LockTaken(key);
    throw error;
  }
}

/** Lets one server at a time do something, among all that share the database. */
@Injectable()
export class Exclusive {
  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  /**
   * @param patienceMs how long it waits for another; null: as long as it takes
   * @throws LockTaken
   */
  run<T>(key: string, work: () => Promise<T>, patienceMs: number | null = null): Promise<T> {
    return exclusively(this.settings.databaseUrl, key, work, patienceMs);
  }
}

/** Starts one process after another: migrations and the queue's tables are made by the first alone. */
export function inTurn<T>({ databaseUrl }: Settings, start: () => Promise<T>): Promise<T> {
  return exclusively(databaseUrl, 'start', start);
}
