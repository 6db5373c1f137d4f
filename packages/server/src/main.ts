import { pino } from 'pino';
import { createApp } from './create-app.js';
import { settingsFrom } from './settings.js';

const settings = settingsFrom(process.env);
const log = pino({ name: 'server', level: settings.logLevel });
try {
  const app = await createApp(settings, log);
  await app.listen(settings.port, settings.host);
  log.info({ host: settings.host, port: settings.port }, 'listening');
} catch (error) {
  log.fatal({ err: error }, 'cannot start');
  process.exitCode = 1;
}
