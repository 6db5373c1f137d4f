import type { Response } from 'express';

/** Refuses a request before any route has seen it, with a problem document (RFC 9457). */
export function sendProblem(
  response: Response,
  status: number,
  code: string,
  title: string,
  detail: string,
): void {
  const type = `/api/docs#${code}`;
  response
    .status(status)
    .type('application/problem+json')
    .send(JSON.stringify({ type, title, status, detail, code, problems: [] }));
}
