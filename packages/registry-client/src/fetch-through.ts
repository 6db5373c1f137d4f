import { rootCertificates } from 'node:tls';

/** Machines that are this one: no proxy leads to them. */
const HERE = ['localhost', '127.0.0.1', '[::1]'];

/**
 * `fetch` through the proxy that the usual variables name (`HTTP_PROXY`, `HTTPS_PROXY`, `NO_PROXY`, in either case).
 * @param ca certificates in PEM that are trusted beside the usual ones; null: none
 */
export async function fetchThrough(ca: string | null): Promise<typeof fetch> {
  const { env } = process;
  const of = (name: string): string => env[name.toLowerCase()] ?? env[name] ?? '';
  if (ca === null && of('HTTP_PROXY') === '' && of('HTTPS_PROXY') === '') return fetch;
  const undici = await import('undici');
  const dispatcher = new undici.EnvHttpProxyAgent({
    noProxy: [...of('NO_PROXY').split(/[\s,]+/), ...HERE].filter((one) => one !== '').join(','),
    ...(ca === null
      ? {}
      : {
          connect: { ca: [...rootCertificates, ca] },
          requestTls: { ca: [...rootCertificates, ca] },
        }),
  });
  return ((place: string, init: object) =>
    undici.fetch(place, { ...init, dispatcher })) as unknown as typeof fetch;
}
