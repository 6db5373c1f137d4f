import { rootCertificates } from 'node:tls';
import type { Dispatcher } from 'undici';

/** Machines that are this one: no proxy leads to them. */
const HERE = ['localhost', '127.0.0.1', '[::1]'];

/**
 * What sends requests through the proxy that the usual variables name (`HTTP_PROXY`, `HTTPS_PROXY`, `NO_PROXY`, in either case).
 * @param ca certificates in PEM that are trusted beside the usual ones; null: none
 */
export async function dispatcherThrough(ca: string | null): Promise<Dispatcher> {
  const { Agent, EnvHttpProxyAgent } = await import('undici');
  return isPlain(ca)
    ? new Agent()
    : new EnvHttpProxyAgent({
        noProxy: [...variable('NO_PROXY').split(/[\s,]+/), ...HERE]
          .filter((one) => one !== '')
          .join(','),
        ...(ca === null
          ? {}
          : {
              connect: { ca: [...rootCertificates, ca] },
              requestTls: { ca: [...rootCertificates, ca] },
            }),
      });
}

/** `fetch` in the same way. */
export async function fetchThrough(ca: string | null): Promise<typeof fetch> {
  if (isPlain(ca)) return fetch;
  const undici = await import('undici');
  const dispatcher = await dispatcherThrough(ca);
  return ((place: string, init: object) =>
    undici.fetch(place, { ...init, dispatcher })) as unknown as typeof fetch;
}

function isPlain(ca: string | null): boolean {
  return ca === null && variable('HTTP_PROXY') === '' && variable('HTTPS_PROXY') === '';
}

function variable(name: string): string {
  return process.env[name.toLowerCase()] ?? process.env[name] ?? '';
}
