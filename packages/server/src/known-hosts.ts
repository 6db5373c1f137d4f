import type { NextFunction, Request, Response } from 'express';
import { sendProblem } from './problems/send-problem.js';

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
    sendProblem(
      response,
      421,
      'HOST_REFUSED',
      'Misdirected request',
      `This server answers for its own address, not for ${host ?? 'no host'}.`,
    );
  };
}
