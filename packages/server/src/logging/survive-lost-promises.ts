import type { Logger } from 'pino';

/** One failure that nobody waited for ends what it was about, and not everybody's work. It is a defect, and logged as one. */
export function surviveLostPromises(log: Logger): void {
  process.on('unhandledRejection', (error) => {
    log.error({ err: error }, 'something failed that nobody waited for');
  });
}
