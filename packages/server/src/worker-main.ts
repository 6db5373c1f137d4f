import 'reflect-metadata';
import { NestFactory } from '@nestjs/core';
import { pino } from 'pino';
import { AppModule } from './app.module.js';
import { inTurn } from './database/exclusive.js';
import { NestLogger } from './logging/nest-logger.js';
import { errorForLog } from './logging/error-for-log.js';
import { surviveLostPromises } from './logging/survive-lost-promises.js';
import { settingsFrom } from './settings.js';

/** A worker process: it takes long work from the queue and answers nobody. */
const settings = { ...settingsFrom(process.env), works: true };
const log = pino({ name: 'worker', level: settings.logLevel, serializers: { err: errorForLog } });
surviveLostPromises(log);
try {
  const app = await inTurn(settings, () =>
    NestFactory.createApplicationContext(AppModule.with(settings, log), {
      logger: new NestLogger(log),
      abortOnError: false,
    }),
  );
  app.enableShutdownHooks();
  log.info('working');
} catch (error) {
  log.fatal({ err: error }, 'cannot start');
  process.exitCode = 1;
}
