import { pino } from 'pino';

/** Fields in which errors of the database repeat values: a row that failed, what was sent with a statement. */
const WITH_VALUES = new Set([
  'parameters',
  'detail',
  'where',
  'driverError',
  'hint',
  'internalQuery',
]);

/** An error as it is logged: of the database's, what went wrong and where, and no value of any row. */
export function errorForLog(error: Error): object {
  const told = Object.entries(pino.stdSerializers.err(error));
  return Object.fromEntries(told.filter(([field]) => !WITH_VALUES.has(field)));
}
