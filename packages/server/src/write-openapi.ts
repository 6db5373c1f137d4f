import { writeFile } from 'node:fs/promises';
import { pino } from 'pino';
import { createApp } from './create-app.js';
import { openApiDocument } from './openapi.js';
import { settingsFrom } from './settings.js';

const [, , target] = process.argv;
if (target === undefined) {
  process.stderr.write('usage: write-openapi.js FILE\n');
  process.exit(2);
}
const app = await createApp(settingsFrom(process.env), pino({ level: 'warn' }));
await writeFile(target, `${JSON.stringify(openApiDocument(app), null, 2)}\n`);
await app.close();
