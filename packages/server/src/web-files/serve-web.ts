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
  app.use(
    '/assets',
    express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
  );
  app.use(express.static(folder, { index: false }));
  app.use((request: express.Request, response: express.Response, next: express.NextFunction) => {
    if (request.method !== 'GET' || request.path === '/api' || request.path.startsWith('/api/'))
      return next();
    response.sendFile(page);
  });
}
