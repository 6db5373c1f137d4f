import type { Response } from 'express';

const TITLES: Readonly<Record<number, string>> = { 401: 'Not let in', 404: 'Not found' };

/** Answers with a problem document (RFC 9457). */
export function problem(response: Response, status: number, detail: string): void {
  const title = TITLES[status] ?? 'Bad request';
  response
    .status(status)
    .type('application/problem+json')
    .send(JSON.stringify({ title, status, detail }));
}
