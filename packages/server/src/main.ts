import { pino } from 'pino';
import { createApp } from './create-app.js';
import { firstStart } from './first-start/first-start.js';
import { errorForLog } from './logging/error-for-log.js';
import { surviveLostPromises } from './logging/survive-lost-promises.js';
import { settingsFrom } from './settings.js';

const settings = settingsFrom(process.env);
const log = pino({ name: 'server', level: settings.logLevel, serializers: { err: errorForLog } });
surviveLostPromises(log);
try {
  const app = await createApp(settings, log);
  // Before it listens: what is started is there whole.
  await firstStart(app, settings, log);
  await app.listen(settings.port, settings.host);
  log.info({ host: settings.host, port: settings.port }, 'listening');
} catch (error) {
  log.fatal({ err: error }, 'cannot start');
  process.exitCode = 1;
}
