import { randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { FILES, REGISTRY } from './test/small-world.js';
import { TestServer } from './test/test-server.js';
import { TestWorkspace } from './test/test-workspace.js';

interface Schema {
  readonly $ref?: string;
  readonly type?: string;
  readonly format?: string;
  readonly enum?: readonly string[];
  readonly items?: Schema;
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly allOf?: readonly Schema[];
  readonly oneOf?: readonly Schema[];
}

interface Operation {
  readonly parameters?: readonly {
    readonly name: string;
    readonly in: 'path' | 'query';
    readonly schema?: Schema;
  }[];
  readonly requestBody?: { readonly content: Readonly<Record<string, { schema: Schema }>> };
}

/** One route of the interface. */
interface Route {
  readonly method: string;
  readonly path: string;
  readonly operation: Operation;
}

/** A request as it is sent. */
interface Request {
  readonly method: string;
  readonly path: string;
  readonly query: readonly (readonly [string, string])[];
  readonly body: unknown;
}

/** These end what the others are tried on, or never end. */
const LEFT_OUT = new Set([
  'DELETE /api/workspaces/{slug}',
  'DELETE /api/session',
  'PUT /api/session/password',
  'GET /api/workspaces/{slug}/events',
]);

let world: TestWorkspace;
let routes: readonly Route[];
let schemas: Readonly<Record<string, Schema>>;
/** Of things that are there, so that requests get further than to *no such thing*. */
let known: readonly string[];

beforeAll(async () => {
  const server = await TestServer.start({ hostMs: 10_000 });
  world = await TestWorkspace.open(FILES, REGISTRY, server);
  await world.post([], 'Lock');
  const { body } = await server.http.get('/api/openapi.json').expect(200);
  const api = body as {
    paths: Record<string, Record<string, Operation>>;
    components: { schemas: Record<string, Schema> };
  };
  schemas = api.components.schemas;
  routes = Object.entries(api.paths).flatMap(([path, methods]) =>
    Object.entries(methods)
      .map(([method, operation]) => ({ method, path, operation }))
      .filter((route) => !LEFT_OUT.has(`${route.method.toUpperCase()} ${path}`)),
  );
  const draft = await server.http.post(world.at('/drafts')).send({}).expect(201);
  const { id, base } = draft.body as { id: string; base: string };
  known = [id, base, 'main', 'log', 'json', 'apps/web', '1.0.0', '^1.0.0', 'ledger.lock'];
});
afterAll(async () => {
  await world.stop();
  await world.server.stop();
});

const STRANGE = [
  '',
  ' ',
  '..',
  '../../etc/passwd',
  '-x',
  '__proto__',
  'constructor',
  '\u0000',
  '\ud800',
  '\u001b[2J',
  '%',
  '%00',
  "'; DROP TABLE workspace; --",
  'a'.repeat(5_000),
  '9'.repeat(30),
  '-1',
  '1e999',
  '2025-02-30',
  'HEAD',
  '@{-1}',
  'refs/heads/main',
  '💥',
];

function text(): fc.Arbitrary<string> {
  return fc.oneof(
    { weight: 4, arbitrary: fc.constantFrom(...known) },
    { weight: 3, arbitrary: fc.constantFrom(...STRANGE) },
    { weight: 1, arbitrary: fc.string({ unit: 'binary', maxLength: 30 }) },
  );
}

/** Values of the wrong kind. */
const JUNK = fc.constantFrom<unknown>(null, [], {}, [[]], [null], 0, -1, 1e308, true, '', 'x');

/** Mostly what a schema describes, now and then something else in any place of it. */
function valueOf(schema: Schema, depth = 0): fc.Arbitrary<unknown> {
  const own = described(schema, depth);
  return fc.oneof({ weight: 12, arbitrary: own }, { weight: 1, arbitrary: JUNK });
}

function described(schema: Schema, depth: number): fc.Arbitrary<unknown> {
  if (depth > 5) return JUNK;
  if (schema.$ref !== undefined)
    return described(schemas[schema.$ref.split('/').at(-1)!]!, depth + 1);
  const several = schema.oneOf ?? schema.allOf;
  if (several !== undefined) return fc.oneof(...several.map((one) => described(one, depth + 1)));
  if (schema.enum !== undefined) return fc.constantFrom(...schema.enum);
  switch (schema.type) {
    case 'boolean':
      return fc.boolean();
    case 'number':
    case 'integer':
      return fc.oneof(fc.integer({ min: -2, max: 5 }), fc.double());
    case 'array':
      return fc.array(valueOf(schema.items ?? {}, depth + 1), { maxLength: 3 });
    case 'object': {
      const fields = Object.entries(schema.properties ?? {}).map(
        ([name, one]) => [name, valueOf(one, depth + 1)] as const,
      );
      return fc.record(Object.fromEntries(fields), { requiredKeys: [] });
    }
    default:
      return text();
  }
}

function requestTo({ method, path, operation }: Route): fc.Arbitrary<Request> {
  const parameters = operation.parameters ?? [];
  const inPath = parameters.filter((one) => one.in === 'path').map(({ name }) => name);
  const inQuery = parameters.filter((one) => one.in === 'query').map(({ name }) => name);
  const schema = operation.requestBody?.content['application/json']?.schema;
  return fc.record({
    method: fc.constant(method),
    path: fc
      .tuple(...inPath.map((name) => (name === 'slug' ? slug() : fc.oneof(text(), fc.uuid()))))
      .map((values) =>
        inPath.reduce(
          (filled, name, i) => filled.replace(`{${name}}`, () => encoded(values[i]!)),
          path,
        ),
      ),
    query: fc
      .tuple(
        ...inQuery.map((name) => fc.tuple(fc.constant(name), fc.array(text(), { maxLength: 2 }))),
      )
      .map((all) => all.flatMap(([name, values]) => values.map((one) => [name, one] as const))),
    body: schema === undefined ? fc.constant({}) : valueOf(schema),
  });
}

function slug(): fc.Arbitrary<string> {
  return fc.oneof(
    { weight: 9, arbitrary: fc.constant(world.slug) },
    { weight: 1, arbitrary: text() },
  );
}

function encoded(value: string): string {
  return encodeURIComponent(value.replace(/\p{Surrogate}/gu, '\ufffd')) || randomUUID();
}

test('no request leads to a failure of the server’s own', async () => {
  const request = fc.constantFrom(...routes).chain(requestTo);
  await fc.assert(
    fc.asyncProperty(request, async ({ method, path, query, body }) => {
      const search = query.map(([name, one]) => `${name}=${encoded(one)}`).join('&');
      const asked = world.server.http[method as 'post'](search === '' ? path : `${path}?${search}`);
      const answer = await (method === 'get'
        ? asked
        : asked.set('content-type', 'application/json').send(JSON.stringify(body)));
      const told = answer.body as { code?: string };
      expect(told.code, `${method} ${path}?${search} ${JSON.stringify(body)}`).not.toBe('INTERNAL');
    }),
    { seed: inject('seed'), numRuns: inject('runs'), endOnFailure: true },
  );
  // Nothing of all that has spoilt what was there.
  await world.get('');
  await world.get('/alignment');
  await world.get('/drafts');
});
