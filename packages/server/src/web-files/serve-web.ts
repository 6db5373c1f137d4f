import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { NestExpressApplication } from '@nestjs/platform-express';
import express from 'express';
import packedStatic from 'express-static-gzip';

/** The build leaves a packed file beside each. */
const PACKED: packedStatic.ExpressStaticGzipOptions = {
  index: false,
  enableBrotli: true,
  orderPreference: ['br', 'gz'],
};

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
    packedStatic(join(folder, 'assets'), {
      ...PACKED,
      serveStatic: { immutable: true, maxAge: '1y', fallthrough: false },
    }),
  );
  files.use(packedStatic(folder, PACKED));
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
