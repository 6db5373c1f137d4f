import type { LoggerService } from '@nestjs/common';
import type { Logger } from 'pino';

export const LOGGER = Symbol('logger');

/** Lets Nest write its own lines through pino. */
export class NestLogger implements LoggerService {
  constructor(private readonly pino: Logger) {}

  private context(parameters: readonly unknown[]): { readonly context?: unknown } {
    return parameters.length === 0 ? {} : { context: parameters.at(-1) };
  }

  verbose(message: unknown, ...rest: unknown[]): void {
    this.pino.trace(this.context(rest), String(message));
  }

  debug(message: unknown, ...rest: unknown[]): void {
    this.pino.debug(this.context(rest), String(message));
  }

  /** Nest tells of every route; that is detail here. */
  log(message: unknown, ...rest: unknown[]): void {
    this.pino.debug(this.context(rest), String(message));
  }

  warn(message: unknown, ...rest: unknown[]): void {
    this.pino.warn(this.context(rest), String(message));
  }

  error(message: unknown, ...rest: unknown[]): void {
    this.pino.error(this.context(rest), String(message));
  }

  fatal(message: unknown, ...rest: unknown[]): void {
    this.pino.fatal(this.context(rest), String(message));
  }
}
