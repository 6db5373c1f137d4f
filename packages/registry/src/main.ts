import { parseArgs } from 'node:util';
import { pino } from 'pino';
import { pinoHttp } from 'pino-http';
import express from 'express';
import { readCatalogue } from './catalogue.js';
import { plainApp } from './plain-app.js';
import { registryApp } from './registry-app.js';

const { values } = parseArgs({
  options: {
    documents: { type: 'string' },
    plain: { type: 'string' },
    port: { type: 'string', default: '0' },
    host: { type: 'string', default: '127.0.0.1' },
    token: { type: 'string' },
  },
});
const { documents, plain, token = null } = values;
if ((documents === undefined) === (plain === undefined)) {
  process.stderr.write(
    'usage: main.js --documents DIR | --plain DIR [--port N] [--host ADDRESS] [--token TOKEN]\n',
  );
  process.exit(2);
}

const log = pino({ name: 'registry' });
const app = express();
app.use(
  pinoHttp({
    logger: log,
    customLogLevel: (_request, response) => (response.statusCode >= 500 ? 'error' : 'debug'),
  }),
);
app.use(
  documents === undefined
    ? plainApp(plain!, token)
    : registryApp(await readCatalogue(documents), token),
);
const server = app.listen(Number(values.port), values.host, (error) => {
  if (error !== undefined) {
    log.fatal({ error }, 'cannot listen');
    process.exit(1);
  }
  log.info({ address: server.address() }, 'listening');
});
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
}
