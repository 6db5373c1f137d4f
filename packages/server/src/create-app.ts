import 'reflect-metadata';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { SwaggerModule } from '@nestjs/swagger';
import compression from 'compression';
import cookieParser from 'cookie-parser';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { AppModule } from './app.module.js';
import { inTurn } from './database/exclusive.js';
import { jsonOnly, notStored, ownOriginOnly } from './api-requests.js';
import { knownHostsOnly } from './known-hosts.js';
import { isCompressed } from './is-compressed.js';
import { movedAddresses } from './moved-addresses.js';
import { errorForLog } from './logging/error-for-log.js';
import { NestLogger } from './logging/nest-logger.js';
import { openApiDocument } from './openapi.js';
import { RequestPipe } from './problems/request-pipe.js';
import type { Settings } from './settings.js';
import { serveWeb } from './web-files/serve-web.js';

const KEEP_ALIVE_MS = 75_000;

/** The whole server, ready to listen. Migrations have run when this returns. */
export function createApp(settings: Settings, log: Logger): Promise<NestExpressApplication> {
  return inTurn(settings, async () => {
    const app = await assembled(settings, log);
    await app.init();
    // Longer than proxies and clients keep theirs, so that none sends on a connection that is being closed.
    app.getHttpServer().keepAliveTimeout = KEEP_ALIVE_MS;
    return app;
  });
}

async function assembled(settings: Settings, log: Logger): Promise<NestExpressApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(settings, log), {
    logger: new NestLogger(log),
    abortOnError: false,
    // JSON alone is taken, as set below: a form of another site could send nothing else.
    bodyParser: false,
  });
  app.set('trust proxy', settings.trustedHops);
  app.use(knownHostsOnly(settings.publicUrl));
  app.use(
    pinoHttp({
      logger: log,
      customLogLevel: (_request, response) =>
        response.statusCode >= 500 ? 'error' : response.statusCode >= 400 ? 'warn' : 'info',
      serializers: {
        err: errorForLog,
        req: ({ id, method, url }: { id: unknown; method: string; url: string }) => ({
          id,
          method,
          url,
        }),
        res: ({ statusCode }: { statusCode: number }) => ({ statusCode }),
      },
      autoLogging: { ignore: ({ url }) => url?.startsWith('/api/') !== true },
    }),
  );
  app.use(
    helmet({
      contentSecurityPolicy: { directives: { upgradeInsecureRequests: null } },
      strictTransportSecurity: false,
    }),
  );
  app.use(compression({ filter: isCompressed }));
  app.use('/api', ownOriginOnly(settings.publicUrl), jsonOnly, notStored);
  app.use(movedAddresses);
  app.use(cookieParser());
  app.setGlobalPrefix('api');
  app.useBodyParser('json', { limit: '5mb' });
  app.useGlobalPipes(new RequestPipe());
  app.enableShutdownHooks();
  SwaggerModule.setup('api/docs', app, () => openApiDocument(app), {
    jsonDocumentUrl: 'api/openapi.json',
  });
  serveWeb(app, settings.webFolder);
  return app;
}
