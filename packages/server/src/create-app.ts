import 'reflect-metadata';
import { ValidationPipe } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { SwaggerModule } from '@nestjs/swagger';
import cookieParser from 'cookie-parser';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { AppModule } from './app.module.js';
import { inTurn } from './database/exclusive.js';
import { knownHostsOnly } from './known-hosts.js';
import { movedAddresses } from './moved-addresses.js';
import { NestLogger } from './logging/nest-logger.js';
import { openApiDocument } from './openapi.js';
import { requestProblem } from './problems/request-words.js';
import type { Settings } from './settings.js';
import { serveWeb } from './web-files/serve-web.js';

/** The whole server, ready to listen. Migrations have run when this returns. */
export function createApp(settings: Settings, log: Logger): Promise<NestExpressApplication> {
  return inTurn(settings, async () => {
    const app = await assembled(settings, log);
    await app.init();
    return app;
  });
}

async function assembled(settings: Settings, log: Logger): Promise<NestExpressApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(settings, log), {
    logger: new NestLogger(log),
    abortOnError: false,
  });
  app.use(knownHostsOnly(settings.publicUrl));
  app.use(
    pinoHttp({
      logger: log,
      customLogLevel: (_request, response) =>
        response.statusCode >= 500 ? 'error' : response.statusCode >= 400 ? 'warn' : 'info',
      serializers: {
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
  app.use(movedAddresses);
  app.use(cookieParser());
  app.setGlobalPrefix('api');
  app.useBodyParser('json', { limit: '5mb' });
  app.useGlobalPipes(
    new ValidationPipe({
      transform: true,
      whitelist: true,
      forbidNonWhitelisted: true,
      exceptionFactory: requestProblem,
    }),
  );
  app.enableShutdownHooks();
  SwaggerModule.setup('api/docs', app, () => openApiDocument(app), {
    jsonDocumentUrl: 'api/openapi.json',
  });
  serveWeb(app, settings.webFolder);
  return app;
}
