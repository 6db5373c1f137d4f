import type { NextFunction, Request, Response } from 'express';

/**
 * Refuses requests that name another host than this machine or the server's own address: a page elsewhere
 * could otherwise have its own name point here.
 */
export function knownHostsOnly(
  publicUrl: string,
): (request: Request, response: Response, next: NextFunction) => void {
  const known = new Set(['127.0.0.1', 'localhost', '[::1]', new URL(publicUrl).hostname]);
  return (request, response, next) => {
    const host = request.headers.host?.replace(/:\d+$/, '').toLowerCase();
    if (host !== undefined && known.has(host)) return next();
    refuse(response, host);
  };
}

function refuse(response: Response, host: string | undefined): void {
  response
    .status(421)
    .type('application/problem+json')
    .send(
      JSON.stringify({
        type: 'about:blank',
        title: 'Misdirected request',
        status: 421,
        detail: `This server answers for its own address, not for ${host ?? 'no host'}.`,
        code: 'HOST_REFUSED',
        problems: [],
      }),
    );
}
