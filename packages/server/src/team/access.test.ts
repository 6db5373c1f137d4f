import { randomUUID } from 'node:crypto';
import { getDataSourceToken } from '@nestjs/typeorm';
import type { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { FILES, REGISTRY } from '../test/small-world.js';
import type { SignedIn } from '../test/test-server.js';
import { TestWorkspace } from '../test/test-workspace.js';
import type { Capability, Scope } from './capability.js';

/** What every route needs. A route that is not in here, or is in here and not there, fails. */
const ROUTES: Readonly<Record<string, Capability>> = {
  'GET /api/health': 'anyone',
  'GET /api/health/parts': 'keep',
  'GET /api/session': 'anyone',
  'POST /api/session': 'anyone',
  'POST /api/one-time-link': 'anyone',
  'POST /api/one-time-link/password': 'anyone',
  'PUT /api/session/password': 'self',
  'DELETE /api/session': 'self',
  'GET /api/accounts': 'self',
  'POST /api/accounts': 'keep',
  'PATCH /api/accounts/{account}': 'keep',
  'POST /api/accounts/{account}/link': 'keep',
  'GET /api/audit': 'keep',
  'GET /api/workspaces': 'self',
  'POST /api/workspaces': 'keep',
  'GET /api/workspaces/{slug}': 'read',
  'POST /api/workspaces/{slug}/refresh': 'read',
  'GET /api/workspaces/{slug}/bring-in': 'read',
  'POST /api/workspaces/{slug}/bring-in/reading': 'read',
  'POST /api/workspaces/{slug}/bring-in/try': 'keep',
  'PUT /api/workspaces/{slug}/bring-in': 'keep',
  'DELETE /api/workspaces/{slug}/bring-in': 'keep',
  'PUT /api/workspaces/{slug}/settings': 'keep',
  'DELETE /api/workspaces/{slug}': 'keep',
  'GET /api/workspaces/{slug}/registries': 'read',
  'PUT /api/workspaces/{slug}/registries/{name}': 'keep',
  'POST /api/workspaces/{slug}/registries/{name}/try': 'keep',
  'GET /api/workspaces/{slug}/tokens': 'keep',
  'POST /api/workspaces/{slug}/tokens': 'keep',
  'DELETE /api/workspaces/{slug}/tokens/{token}': 'keep',
  'GET /api/workspaces/{slug}/alignment': 'read',
  'GET /api/workspaces/{slug}/names': 'read',
  'GET /api/workspaces/{slug}/packages/{name}': 'read',
  'GET /api/workspaces/{slug}/project': 'read',
  'GET /api/workspaces/{slug}/shared': 'read',
  'GET /api/workspaces/{slug}/centralise': 'read',
  'GET /api/workspaces/{slug}/model': 'read',
  'GET /api/workspaces/{slug}/scan': 'read',
  'GET /api/workspaces/{slug}/findings': 'read',
  'GET /api/workspaces/{slug}/findings/count': 'read',
  'GET /api/workspaces/{slug}/findings/sarif': 'read',
  'GET /api/workspaces/{slug}/findings/clearing': 'read',
  'GET /api/workspaces/{slug}/overview': 'read',
  'GET /api/workspaces/{slug}/registry': 'read',
  'GET /api/workspaces/{slug}/registry/packages/{name}': 'read',
  'GET /api/workspaces/{slug}/registry/packages/{name}/notes/{version}': 'read',
  'GET /api/workspaces/{slug}/standing': 'read',
  'POST /api/workspaces/{slug}/standing/{name}/runs': 'draft',
  'GET /api/workspaces/{slug}/registry/news': 'read',
  'GET /api/workspaces/{slug}/upgrades': 'read',
  'POST /api/workspaces/{slug}/upgrades/trials': 'read',
  'GET /api/workspaces/{slug}/upgrades/batch': 'read',
  'GET /api/workspaces/{slug}/trace': 'read',
  'GET /api/workspaces/{slug}/trace/chains': 'read',
  'POST /api/workspaces/{slug}/trace/without': 'read',
  'GET /api/workspaces/{slug}/file': 'read',
  'GET /api/workspaces/{slug}/trace/leaving': 'read',
  'GET /api/workspaces/{slug}/trace/weights': 'read',
  'GET /api/workspaces/{slug}/trace/copies/{name}': 'read',
  'POST /api/workspaces/{slug}/what-if': 'read',
  'GET /api/workspaces/{slug}/drafts': 'read',
  'POST /api/workspaces/{slug}/drafts': 'draft',
  'GET /api/workspaces/{slug}/drafts/{id}': 'read',
  'PATCH /api/workspaces/{slug}/drafts/{id}': 'draft',
  'DELETE /api/workspaces/{slug}/drafts/{id}': 'draft',
  'PUT /api/workspaces/{slug}/drafts/{id}/entries': 'draft',
  'POST /api/workspaces/{slug}/drafts/{id}/edits': 'draft',
  'PUT /api/workspaces/{slug}/drafts/{id}/packages/{name}': 'draft',
  'POST /api/workspaces/{slug}/drafts/{id}/level': 'draft',
  'POST /api/workspaces/{slug}/drafts/{id}/undo': 'draft',
  'POST /api/workspaces/{slug}/drafts/{id}/redo': 'draft',
  'POST /api/workspaces/{slug}/drafts/{id}/restore': 'draft',
  'POST /api/workspaces/{slug}/drafts/{id}/centralise': 'draft',
  'GET /api/workspaces/{slug}/drafts/{id}/suggested-fixes': 'read',
  'GET /api/workspaces/{slug}/drafts/{id}/patch': 'read',
  'POST /api/workspaces/{slug}/drafts/{id}/post': 'post',
  'GET /api/workspaces/{slug}/drafts/{id}/review': 'read',
  'PUT /api/workspaces/{slug}/drafts/{id}/approval': 'draft',
  'DELETE /api/workspaces/{slug}/drafts/{id}/approval': 'draft',
  'POST /api/workspaces/{slug}/drafts/{id}/comments': 'draft',
  'DELETE /api/workspaces/{slug}/drafts/{id}/comments/{comment}': 'draft',
  'GET /api/workspaces/{slug}/jobs': 'read',
  'GET /api/workspaces/{slug}/jobs/{job}': 'read',
  'DELETE /api/workspaces/{slug}/jobs/{job}': 'draft',
  'POST /api/workspaces/{slug}/jobs/{job}/again': 'draft',
  'GET /api/workspaces/{slug}/events': 'read',
  'GET /api/workspaces/{slug}/lock': 'read',
  'GET /api/workspaces/{slug}/lock/copies/{name}/{version}': 'read',
  'POST /api/workspaces/{slug}/lock/repair': 'draft',
  'GET /api/workspaces/{slug}/drift': 'read',
  'GET /api/workspaces/{slug}/drift/over-time': 'read',
  'GET /api/workspaces/{slug}/machines': 'read',
  'GET /api/workspaces/{slug}/archives': 'read',
  'GET /api/workspaces/{slug}/archives/{digest}': 'fetch',
  'POST /api/workspaces/{slug}/archives/check': 'draft',
  'POST /api/workspaces/{slug}/archives/clear': 'keep',
  'POST /api/workspaces/{slug}/reports': 'report',
  'GET /api/workspaces/{slug}/merges/branches': 'read',
  'POST /api/workspaces/{slug}/merges/preview': 'read',
  'PUT /api/workspaces/{slug}/merges/approval': 'draft',
  'POST /api/workspaces/{slug}/merges/post': 'post',
  'GET /api/workspaces/{slug}/posts': 'read',
  'GET /api/workspaces/{slug}/journal': 'read',
  'GET /api/workspaces/{slug}/comparison': 'read',
  'POST /api/workspaces/{slug}/journal/{commit}/reversal': 'draft',
};

/** Who may what. */
const MAY: Readonly<Record<string, readonly Capability[]>> = {
  'no credentials': ['anyone'],
  'a cookie that nobody gave': ['anyone'],
  'a session that is too old': ['anyone'],
  'a disabled account': ['anyone'],
  'a token that nobody made': ['anyone'],
  'a token whose last day is over': ['anyone'],
  'a revoked token': ['anyone'],
  "another workspace's token": ['anyone'],
  'a token to read': ['anyone', 'read'],
  'a token to draft': ['anyone', 'read', 'draft'],
  'a token to report': ['anyone', 'report'],
  'a token to fetch': ['anyone', 'fetch'],
  'a reader without the CSRF header': ['anyone'],
  'a reader': ['anyone', 'self', 'read', 'fetch'],
  'an editor': ['anyone', 'self', 'read', 'fetch', 'report', 'draft'],
  'a keeper': ['anyone', 'self', 'read', 'fetch', 'report', 'draft', 'post', 'keep'],
};
const UNKNOWN = new Set([
  'no credentials',
  'a cookie that nobody gave',
  'a session that is too old',
  'a disabled account',
  'a token that nobody made',
  'a token whose last day is over',
  'a revoked token',
]);
/** These end the workspace and the session. */
const LAST = ['DELETE /api/workspaces/{slug}', 'DELETE /api/session'];

type Headers = Readonly<Record<string, string>>;

let world: TestWorkspace;
let other: TestWorkspace;
const headers = new Map<string, Headers>();
let routes: readonly string[];

async function token(of: TestWorkspace, scope: Scope): Promise<{ id: string; secret: string }> {
  const { body } = await of.server.http
    .post(of.at('/tokens'))
    .send({ name: scope, scopes: [scope], lastDay: '2099-01-01' })
    .expect(201);
  const made = body as { token: { id: string }; secret: string };
  return { id: made.token.id, secret: made.secret };
}

function bearer(secret: string): Headers {
  return { authorization: `Bearer ${secret}` };
}

function session({ cookie, csrf }: SignedIn): Headers {
  return { cookie, 'x-csrf-token': csrf };
}

beforeAll(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY);
  other = await TestWorkspace.open(FILES, REGISTRY, world.server);
  const { server } = world;
  const database = server.nest.get<DataSource>(getDataSourceToken());
  const reader = await server.signedIn('gate', 'reader');
  const old = await server.signedIn('kiosk', 'keeper');
  await database.query(
    `UPDATE "session" SET "created_at" = now() - interval '15 days'
     WHERE "account_id" = (SELECT "id" FROM "account" WHERE "name" = 'kiosk')`,
  );
  const disabled = await server.signedIn('radio', 'keeper');
  await database.query(`UPDATE "account" SET "is_active" = false WHERE "name" = 'radio'`);
  const over = await token(world, 'read');
  await database.query(`UPDATE "token" SET "last_day" = '2025-05-31' WHERE "id" = $1`, [over.id]);
  const revoked = await token(world, 'draft');
  await server.http.delete(world.at(`/tokens/${revoked.id}`)).expect(204);
  headers.set('no credentials', {});
  headers.set(
    'a cookie that nobody gave',
    session({ cookie: `deep-ledger-session=${'A'.repeat(43)}`, csrf: 'x' }),
  );
  headers.set('a session that is too old', session(old));
  headers.set('a disabled account', session(disabled));
  headers.set('a token that nobody made', bearer('B'.repeat(43)));
  headers.set('a token whose last day is over', bearer(over.secret));
  headers.set('a revoked token', bearer(revoked.secret));
  headers.set("another workspace's token", bearer((await token(other, 'read')).secret));
  headers.set('a token to read', bearer((await token(world, 'read')).secret));
  headers.set('a token to draft', bearer((await token(world, 'draft')).secret));
  headers.set('a token to report', bearer((await token(world, 'report')).secret));
  headers.set('a token to fetch', bearer((await token(world, 'fetch')).secret));
  headers.set('a reader without the CSRF header', session({ ...reader, csrf: '' }));
  headers.set('a reader', session(reader));
  headers.set('an editor', session(await server.signedIn('lift', 'editor')));
  headers.set('a keeper', session(await server.signedIn('roost', 'keeper')));
  const { body } = await server.http.get('/api/openapi.json');
  const { paths } = body as { paths: Record<string, Record<string, object>> };
  const all = Object.entries(paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method.toUpperCase()} ${path}`),
  );
  routes = [...all.filter((one) => !LAST.includes(one)), ...LAST];
});
afterAll(async () => {
  await other.stop();
  await world.stop();
});

async function ask(who: Headers, route: string): Promise<{ status: number; code: string }> {
  const [method, path] = route.split(' ') as [string, string];
  const address = path
    .replace('{slug}', world.slug)
    .replace('{name}', 'log')
    .replace('{commit}', 'main')
    .replaceAll(/\{\w+\}/g, () => randomUUID());
  if (path.endsWith('/events')) return listen(who, address);
  const request = world.server.stranger[method.toLowerCase() as 'get'](address).set(who);
  const { status, body } = await (method === 'GET' ? request : request.send({}));
  return { status, code: (body as { code?: string }).code ?? '' };
}

/** The answer to this never ends. */
async function listen(who: Headers, address: string): Promise<{ status: number; code: string }> {
  const stop = new AbortController();
  const response = await fetch(`${world.server.url}${address}`, {
    headers: who,
    signal: stop.signal,
  });
  const { status } = response;
  const code = response.ok ? '' : ((await response.json()) as { code: string }).code;
  stop.abort();
  return { status, code };
}

test('every route says what it needs, and is in the table', () => {
  expect([...routes].sort()).toEqual(Object.keys(ROUTES).sort());
});

describe('the table of roles and routes:', () => {
  test.each(Object.keys(MAY))('%s', async (who) => {
    const asked = headers.get(who)!;
    for (const route of routes) {
      const isSafe = route.startsWith('GET ');
      const isReading = who === 'a reader without the CSRF header' && isSafe;
      const may = MAY[isReading ? 'a reader' : who]!.includes(ROUTES[route]!);
      const { status, code } = await ask(asked, route);
      const seen = `${route}: ${status} ${code}`;
      if (may) expect(seen).not.toMatch(/NOT_SIGNED_IN|NOT_ALLOWED|CSRF_MISSING/);
      else if (UNKNOWN.has(who)) expect(seen).toBe(`${route}: 401 NOT_SIGNED_IN`);
      else if (who === 'a reader without the CSRF header' && !isSafe)
        expect(seen).toBe(`${route}: 403 CSRF_MISSING`);
      else expect(seen).toBe(`${route}: 403 NOT_ALLOWED`);
      expect(status, seen).toBeLessThan(500);
    }
  });
});
