import type { NextFunction, Request, Response } from 'express';

/**
 * Refuses requests that name another host than this machine: a page elsewhere could otherwise have its
 * own name point here and read answers that are for this machine's user alone.
 */
export function loopbackHostsOnly(request: Request, response: Response, next: NextFunction): void {
  const host = request.headers.host?.replace(/:\d+$/, '');
  if (host === '127.0.0.1' || host === 'localhost' || host === '[::1]') return next();
  response
    .status(421)
    .type('application/problem+json')
    .send(
      JSON.stringify({
        type: 'about:blank',
        title: 'Misdirected request',
        status: 421,
        detail: `This server answers for 127.0.0.1 and localhost, not for ${host ?? 'no host'}.`,
        code: 'HOST_REFUSED',
        problems: [],
      }),
    );
}
