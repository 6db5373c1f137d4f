import {
  Catch,
  HttpException,
  Inject,
  type ArgumentsHost,
  type ExceptionFilter,
} from '@nestjs/common';
import type { Response } from 'express';
import type { Logger } from 'pino';
import { LOGGER } from '../logging/nest-logger.js';
import { isDatabaseAway } from '../database/is-database-away.js';
import { Problem } from './problem.js';

/**
 * Turns everything that is thrown into a problem document. An unexpected error is logged, and the document says nothing
 * of it.
 */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  constructor(@Inject(LOGGER) private readonly log: Logger) {}

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>();
    if (response.headersSent) return;
    const body = this.bodyOf(error);
    response.status(body.status).type('application/problem+json').send(JSON.stringify(body));
  }

  private bodyOf(error: unknown): { readonly status: number; readonly [key: string]: unknown } {
    if (error instanceof Problem) {
      const { code, title, detail, problems } = error;
      const status = error.getStatus();
      return { type: `/api/docs#${code}`, title, status, detail, code, problems };
    }
    if (error instanceof HttpException) {
      const status = error.getStatus();
      const code = status === 404 ? 'NOT_FOUND' : 'REQUEST_INVALID';
      return {
        type: `/api/docs#${code}`,
        title: error.name.replace(/Exception$/, ''),
        status,
        detail: detailOf(error),
        code,
        problems: [],
      };
    }
    if (isDiskFull(error)) {
      this.log.error({ err: error }, 'the disk is full');
      return {
        type: '/api/docs#DISK_FULL',
        title: 'The server’s disk is full',
        status: 507,
        detail:
          'There is no space left where the server keeps its data. Nothing was written; what was read before can still be looked at.',
        code: 'DISK_FULL',
        problems: [],
      };
    }
    if (isDatabaseAway(error)) {
      this.log.warn({ err: error }, 'the database does not answer');
      return {
        type: '/api/docs#DATABASE_DOWN',
        title: 'The database does not answer',
        status: 503,
        detail:
          'The server goes on by itself once its database is back. Nothing was kept of this; try again then.',
        code: 'DATABASE_DOWN',
        problems: [],
      };
    }
    this.log.error({ err: error }, 'unexpected error');
    return {
      type: '/api/docs#INTERNAL',
      title: 'Internal error',
      status: 500,
      detail: 'Something went wrong that should not have. The server log has the details.',
      code: 'INTERNAL',
      problems: [],
    };
  }
}

/** Of this program, of git, or of the database (53100). */
function isDiskFull(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const { code } = error as { readonly code?: unknown };
  return code === 'ENOSPC' || code === '53100' || error.message.includes('No space left on device');
}

/** Validation gives a list of sentences. */
function detailOf(error: HttpException): string {
  const body = error.getResponse();
  if (typeof body === 'object' && 'message' in body) {
    return Array.isArray(body.message) ? body.message.join('; ') : String(body.message);
  }
  return error.message;
}
