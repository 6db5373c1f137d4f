import type { NextFunction, Request, Response } from 'express';

/** Parts of paths, below a workspace, that had other names before: of pages, then of the interface. */
const PAGES: readonly (readonly [RegExp, string])[] = [
  [/^\/sheet$/, '/alignment'],
  [/^\/move-in$/, '/centralise'],
  [/^\/roll-call$/, '/machines'],
];
const INTERFACE: readonly (readonly [RegExp, string])[] = [
  [/^\/sheet$/, '/alignment'],
  [/^\/move-in$/, '/centralise'],
  [/^\/roll-call$/, '/machines'],
  [/^\/lock\/mend$/, '/lock/repair'],
  [/^\/findings\/closing$/, '/findings/clearing'],
  [/^\/(drafts\/[^/]+)\/ways-out$/, '/$1/suggested-fixes'],
  [/^\/(drafts\/[^/]+)\/move-in$/, '/$1/centralise'],
];

const SEVERITIES = new Map([
  ['grave', 'error'],
  ['plain', 'warning'],
  ['light', 'note'],
]);

/** Answers requests for addresses that had another name before with the address as it is now; links to them still lead there. */
export function movedAddresses(request: Request, response: Response, next: NextFunction): void {
  const moved = movedAddress(request.originalUrl);
  if (moved === null) next();
  else response.redirect(308, moved);
}

/** @param address path and query @returns null where it has not moved */
export function movedAddress(address: string): string | null {
  const [, path = '', query = ''] = /^([^?]*)(\?.*)?$/.exec(address)!;
  const [, start, rest] = /^(\/w\/[^/]+|\/api\/workspaces\/[^/]+)(\/.*)$/.exec(path) ?? [];
  if (start === undefined || rest === undefined) return null;
  const table = start.startsWith('/api/') ? INTERFACE : PAGES;
  const found = table.find(([pattern]) => pattern.test(rest));
  const now = start + (found === undefined ? rest : rest.replace(...found));
  const asked = rest === '/findings' ? movedFilters(query) : query;
  return now === path && asked === query ? null : now + asked;
}

function movedFilters(query: string): string {
  const params = new URLSearchParams(query);
  const severity = SEVERITIES.get(params.get('weight') ?? '');
  const isClearing = params.has('close');
  if (severity === undefined && !isClearing) return query;
  if (severity !== undefined) {
    params.delete('weight');
    params.set('severity', severity);
  }
  if (isClearing) {
    params.delete('close');
    params.set('clear', 'yes');
  }
  return `?${params}`;
}
