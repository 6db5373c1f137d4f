import 'reflect-metadata';
import { writeFile } from 'node:fs/promises';
import { NestFactory } from '@nestjs/core';
import { pino } from 'pino';
import { AppModule } from './app.module.js';
import { openApiDocument } from './openapi.js';
import { settingsFrom } from './settings.js';

const [, , target] = process.argv;
if (target === undefined) {
  process.stderr.write('usage: write-openapi.js FILE\n');
  process.exit(2);
}
// In preview nothing is constructed, so no database is needed.
const settings = settingsFrom({ DATABASE_URL: 'postgres://nowhere' });
const app = await NestFactory.create(AppModule.with(settings, pino({ level: 'silent' })), {
  preview: true,
  logger: false,
});
app.setGlobalPrefix('api');
await writeFile(target, `${JSON.stringify(openApiDocument(app), null, 2)}\n`);
