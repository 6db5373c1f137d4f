import { createHash } from 'node:crypto';
import express, { type Express } from 'express';
import { bearerOf } from './bearer-of.js';
import { buildArchive } from './build-archive.js';
import type { Catalogue } from './catalogue.js';
import { OPENAPI } from './openapi.js';
import { problem } from './problem.js';

const PAGE_SIZE = 50;

/**
 * The registry as an HTTP application. Answers carry strong ETags; `If-None-Match` gives 304.
 * @param token that everybody has to send (RFC 6750); null: none
 */
export function registryApp(catalogue: Catalogue, token: string | null = null): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('etag', 'strong');

  app.get('/openapi.json', (_request, response) => void response.json(OPENAPI));
  app.get('/health', (_request, response) => void response.json({ status: 'ok' }));

  app.use(bearerOf(token));

  app.get('/packages', (request, response) => {
    const query = typeof request.query['query'] === 'string' ? request.query['query'] : '';
    const page = wholeNumber(request.query['page'], 1);
    if (page === null || page < 1)
      return problem(
        response,
        400,
        `page must be a whole number from 1, not "${String(request.query['page'])}"`,
      );
    const { total, packages } = catalogue.search(query, page, PAGE_SIZE);
    response.json({
      total,
      page,
      packages: packages.map(({ name, summary, releases }) => ({
        name,
        summary,
        newest: releases.at(-1)?.version ?? null,
        published: releases.at(-1)?.published ?? null,
        licence: releases.at(-1)?.licence ?? null,
      })),
    });
  });

  app.get('/packages/:name', (request, response) => {
    const document = catalogue.get(request.params.name);
    if (document === null)
      return problem(response, 404, `there is no package ${request.params.name}`);
    const text = JSON.stringify(document);
    const etag = `"${createHash('sha256').update(text).digest('base64url')}"`;
    response.set('etag', etag);
    // Compared here: Express answers 200 to whoever also sends `cache-control: no-cache`, as fetch does.
    if (request.headers['if-none-match'] === etag) response.status(304).end();
    else response.type('application/json').send(text);
  });

  app.get('/archives/:name/:version', async (request, response) => {
    const { name, version } = request.params;
    const document = catalogue.get(name);
    const release = document?.releases.find((one) => one.version === version);
    if (document === null || release === undefined)
      return problem(response, 404, `there is no release ${name} ${version}`);
    const { summary } = document;
    const needs = Object.keys(release.needs);
    const { bytes } = await buildArchive({ name, version, summary, needs });
    response.type('application/gzip').send(bytes);
  });

  app.get('/changes', (request, response) => {
    const since = wholeNumber(request.query['since'], 0);
    if (since === null)
      return problem(
        response,
        400,
        `since must be a cursor of an earlier answer, not "${String(request.query['since'])}"`,
      );
    const { cursor, changes } = catalogue.changesSince(since);
    response.json({ cursor: String(cursor), changes });
  });

  app.use((request, response) => problem(response, 404, `there is nothing at ${request.path}`));
  return app;
}

function wholeNumber(value: unknown, otherwise: number): number | null {
  if (value === undefined) return otherwise;
  return typeof value === 'string' && /^\d{1,12}$/.test(value) ? Number(value) : null;
}
