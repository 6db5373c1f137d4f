import type { NextFunction, Request, Response } from 'express';
import { sendProblem } from './problems/send-problem.js';
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
    sendProblem(
      response,
      403,
      'ORIGIN_REFUSED',
      'From another page',
      `A page of ${origin} cannot change anything here.`,
    );
  };
}

/** Refuses bodies that are no JSON: a form can be sent from anywhere. */
export const jsonOnly: Handler = (request, response, next) => {
  const hasBody =
    request.headers['transfer-encoding'] !== undefined ||
    Number(request.headers['content-length'] ?? 0) > 0;
  if (!hasBody || request.is('json') === 'json') return next();
  sendProblem(
    response,
    415,
    'JSON_ONLY',
    'No JSON',
    'Send what you have to say as application/json.',
  );
};

/** Answers are for whoever asked, and nobody keeps them unless a route says otherwise. */
export const notStored: Handler = (_, response, next) => {
  response.set('cache-control', 'no-store');
  next();
};
