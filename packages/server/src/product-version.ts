import { createRequire } from 'node:module';

const { version } = createRequire(import.meta.url)('../package.json') as { version: string };

/** What this server is a release of. */
export const PRODUCT_VERSION = version;
