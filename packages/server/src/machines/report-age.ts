const DAY_MS = 86_400_000;
/** A report this old is no longer told. */
export const GONE_MS = 30 * DAY_MS;
