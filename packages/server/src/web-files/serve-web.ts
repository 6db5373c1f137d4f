import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { NestExpressApplication } from '@nestjs/platform-express';
import express from 'express';

/**
 * Serves the built web application; every address that is neither a file nor the API's gets its page,
 * since the page finds its own way from the address.
 */
export function serveWeb(app: NestExpressApplication, folder: string): void {
  const page = join(folder, 'index.html');
  if (!existsSync(page)) return;
  const files = express.Router();
  files.use(
    '/assets',
    express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
  );
  files.use(express.static(folder, { index: false }));
  files.use((request, response, next) => {
    if (request.method === 'GET') response.sendFile(page);
    else next();
  });
  app.use((request: express.Request, response: express.Response, next: express.NextFunction) => {
    const isApi = request.path === '/api' || request.path.startsWith('/api/');
    // Looking for a file would cost every answer of the API a question to the file system.
    if (isApi) next();
    else files(request, response, next);
  });
}
