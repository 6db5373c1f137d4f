import { fileURLToPath } from 'node:url';

/** The file of a worker thread. Tests run from the sources, and worker threads cannot: they take what the build made of them. */
export function builtWorker(address: URL): string {
  return fileURLToPath(address).replace(/([\\/])src([\\/][\w-]+[\\/][\w.-]+)$/, '$1dist$2');
}
