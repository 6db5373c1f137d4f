import compression from 'compression';
import type { Request, Response } from 'express';

/** Whether an answer is worth packing; a stream of events is not, since each has to arrive at once. */
export function isCompressed(request: Request, response: Response): boolean {
  const type = response.getHeader('content-type');
  const isStream = typeof type === 'string' && type.startsWith('text/event-stream');
  return !isStream && compression.filter(request, response);
}
