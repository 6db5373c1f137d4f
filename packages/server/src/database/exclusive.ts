import { Inject, Injectable } from '@nestjs/common';
import { Client } from 'pg';
import { SETTINGS, type Settings } from '../settings.js';

/**
 * Does something while no other process does that has the same key and database. The lock is the database's own
 * and hangs on a connection that is opened for it, so it is free again when a server is killed.
 */
export async function exclusively<T>(
  databaseUrl: string,
  key: string,
  work: () => Promise<T>,
): Promise<T> {
  const client = new Client({ connectionString: databaseUrl });
  // A connection that breaks is told by the next query; without a listener it would end the program.
  client.on('error', () => {});
  await client.connect();
  try {
    await client.query('SELECT pg_advisory_lock(hashtextextended($1, 0))', [key]);
    return await work();
  } finally {
    await client.end().catch(() => {});
  }
}

/** Lets one server at a time do something, among all that share the database. */
@Injectable()
export class Exclusive {
  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  run<T>(key: string, work: () => Promise<T>): Promise<T> {
    return exclusively(this.settings.databaseUrl, key, work);
  }
}

/** Starts one process after another: migrations and the queue's tables are made by the first alone. */
export function inTurn<T>({ databaseUrl }: Settings, start: () => Promise<T>): Promise<T> {
  return exclusively(databaseUrl, 'start', start);
}
