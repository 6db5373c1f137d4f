import { Inject, Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import type { DataSource } from 'typeorm';
import { LOGGER } from '../logging/nest-logger.js';

/**
 * Listens for errors on every new connection to the database. TypeORM does so a moment after it was handed
 * one; a database that goes away within that moment would end the whole program.
 */
@Injectable()
export class BrokenConnections {
  constructor(@InjectDataSource() database: DataSource, @Inject(LOGGER) log: Logger) {
    const { master } = database.driver as unknown as { readonly master: Pool };
    master.on('connect', (client) =>
      client.on('error', (error) => log.warn({ err: error }, 'a database connection is lost')),
    );
  }
}
