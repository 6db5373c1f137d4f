import express, { type Express } from 'express';
import { bearerOf } from './bearer-of.js';

/**
 * Files of a folder as they are, for a registry whose documents are in a JSON of its own. `NAME` in an address stands for
 * the file `NAME.json` where there is no file of that name.
 * @param token that everybody has to send (RFC 6750); null: none
 */
export function plainApp(folder: string, token: string | null): Express {
  const app = express();
  app.disable('x-powered-by');
  app.get('/health', (_request, response) => void response.json({ status: 'ok' }));
  app.use(bearerOf(token));
  app.use(express.static(folder, { extensions: ['json'], index: false, redirect: false }));
  return app;
}
