/** Of the operating system, and of PostgreSQL (Appendix A): connection exceptions, shutting down, starting up. */
const CODES = /^(ECONNREFUSED|ECONNRESET|EPIPE|ENOENT|ETIMEDOUT|08...|57P0[123]|53300|3D000)$/;
/** Of the driver, which has no codes of its own. */
const SENTENCES =
  /^(Connection terminated|timeout exceeded when trying to connect|Client has encountered a connection error|terminating connection|Client was closed)/;

/** Did a statement fail because the database cannot be reached? */
export function isDatabaseAway(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const { code, driverError, message } = error as Error & {
    readonly code?: unknown;
    readonly driverError?: unknown;
  };
  if (driverError !== undefined) return isDatabaseAway(driverError);
  const isOfConnection =
    typeof code === 'string' &&
    CODES.test(code) &&
    (error as { syscall?: string }).syscall !== 'open';
  return isOfConnection || SENTENCES.test(message);
}
