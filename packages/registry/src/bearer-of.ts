import type { RequestHandler } from 'express';
import { problem } from './problem.js';

/** Lets nobody pass without a token (RFC 6750). @param token null: none is wanted */
export function bearerOf(token: string | null): RequestHandler {
  return (request, response, next) => {
    if (token === null || request.headers.authorization === `Bearer ${token}`) return next();
    response.set('www-authenticate', 'Bearer');
    problem(response, 401, 'a token is wanted here');
  };
}
