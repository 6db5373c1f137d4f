import { parseArgs } from 'node:util';
import { pino } from 'pino';
import { pinoHttp } from 'pino-http';
import express from 'express';
import { readCatalogue } from './catalogue.js';
import { registryApp } from './registry-app.js';

const { values } = parseArgs({
  options: {
    documents: { type: 'string' },
    port: { type: 'string', default: '0' },
    host: { type: 'string', default: '127.0.0.1' },
    token: { type: 'string' },
  },
});
if (values.documents === undefined) {
  process.stderr.write(
    'usage: main.js --documents DIR [--port N] [--host ADDRESS] [--token TOKEN]\n',
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
app.use(registryApp(await readCatalogue(values.documents), values.token ?? null));
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
