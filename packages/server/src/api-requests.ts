import type { NextFunction, Request, Response } from 'express';
import { SAFE_METHODS } from './team/safe-methods.js';

type Handler = (request: Request, response: Response, next: NextFunction) => void;

/**
 * Refuses what changes something and comes from a page of another origin (RFC 6454), as its browser says. Whatever is no
 * browser sends no origin.
 */
export function ownOriginOnly(publicUrl: string): Handler {
  const own = new URL(publicUrl).origin;
  return (request, response, next) => {
    const { origin, host } = request.headers;
    const isOwn =
      origin === undefined ||
      origin === own ||
      (URL.canParse(origin) && new URL(origin).host === host);
    if (SAFE_METHODS.has(request.method) || isOwn) return next();
    refuse(response, 403, 'ORIGIN_REFUSED', `A page of ${origin} cannot change anything here.`);
  };
}

/** Refuses bodies that are no JSON: a form can be sent from anywhere. */
export const jsonOnly: Handler = (request, response, next) => {
  const hasBody =
    request.headers['transfer-encoding'] !== undefined ||
    Number(request.headers['content-length'] ?? 0) > 0;
  if (!hasBody || request.is('json') === 'json') return next();
  refuse(response, 415, 'JSON_ONLY', 'Send what you have to say as application/json.');
};

/** Answers are for whoever asked, and nobody keeps them unless a route says otherwise. */
export const notStored: Handler = (_, response, next) => {
  response.set('cache-control', 'no-store');
  next();
};

function refuse(response: Response, status: number, code: string, detail: string): void {
  response
    .status(status)
    .type('application/problem+json')
    .send(
      JSON.stringify({
        type: `/api/docs#${code}`,
        title: 'Refused',
        status,
        detail,
        code,
        problems: [],
      }),
    );
}
