import { pino } from 'pino';

/** Fields in which errors of the database repeat values: a row that failed, what was sent with a statement. */
const WITH_VALUES = ['parameters', 'detail', 'where', 'driverError', 'hint', 'internalQuery'];

/** An error as it is logged: of the database's, what went wrong and where, and no value of any row. */
export function errorForLog(error: Error): object {
  const told: Record<string, unknown> = { ...pino.stdSerializers.err(error) };
  for (const field of WITH_VALUES) delete told[field];
  return told;
}
