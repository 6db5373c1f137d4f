import { Inject, Injectable } from '@nestjs/common';
import { Client } from 'pg';
import { SETTINGS, type Settings } from '../settings.js';

/**
 * Lets one server at a time do something, among all that share the database. The lock is the database's own
 * and hangs on a connection that is opened for it, so it is free again when a server is killed.
 */
@Injectable()
export class Exclusive {
  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  async run<T>(key: string, work: () => Promise<T>): Promise<T> {
    const client = new Client({ connectionString: this.settings.databaseUrl });
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
}
