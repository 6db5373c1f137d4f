const text = { type: 'string' } as const;
const json = (schema: object): object => ({ 'application/json': { schema } });
const reference = (name: string): object => ({ $ref: `#/components/schemas/${name}` });
const parameter = (name: string, place: 'path' | 'query', description: string): object => ({
  name,
  in: place,
  required: place === 'path',
  description,
  schema: text,
});
const notFound = {
  description: 'Not in this registry',
  content: { 'application/problem+json': { schema: reference('Problem') } },
};

/** The registry's interface as an OpenAPI 3.1 document. */
export const OPENAPI = {
  openapi: '3.1.0',
  info: {
    title: 'Package registry',
    version: '1.0.0',
    description: 'Releases of packages, their documents and archives.',
  },
  paths: {
    '/packages': {
      get: {
        summary: 'Search by words in name and summary, 50 to a page',
        parameters: [parameter('query', 'query', 'words'), parameter('page', 'query', 'from 1')],
        responses: {
          200: { description: 'One page of packages', content: json(reference('Page')) },
        },
      },
    },
    '/packages/{name}': {
      get: {
        summary: 'All releases of a package; answers If-None-Match with 304',
        parameters: [parameter('name', 'path', 'package')],
        responses: {
          200: { description: 'The document', content: json(reference('Package')) },
          304: { description: 'Unchanged' },
          404: notFound,
        },
      },
    },
    '/archives/{name}/{version}': {
      get: {
        summary: 'The archive of a release',
        parameters: [parameter('name', 'path', 'package'), parameter('version', 'path', 'release')],
        responses: {
          200: {
            description: 'tar.gz',
            content: { 'application/gzip': { schema: { type: 'string', format: 'binary' } } },
          },
          404: notFound,
        },
      },
    },
    '/changes': {
      get: {
        summary: 'What was published since a cursor',
        parameters: [parameter('since', 'query', 'cursor of an earlier answer; all when absent')],
        responses: {
          200: {
            description: 'Changes, oldest first, and the new cursor',
            content: json(reference('Changes')),
          },
        },
      },
    },
  },
  components: {
    schemas: {
      Problem: {
        type: 'object',
        properties: { title: text, status: { type: 'integer' }, detail: text },
      },
      Page: {
        type: 'object',
        properties: {
          total: { type: 'integer' },
          page: { type: 'integer' },
          packages: {
            type: 'array',
            items: { type: 'object', properties: { name: text, summary: text, newest: text } },
          },
        },
      },
      Changes: {
        type: 'object',
        properties: {
          cursor: text,
          changes: {
            type: 'array',
            items: {
              type: 'object',
              properties: {
                name: text,
                version: text,
                published: text,
                withdrawn: { type: 'boolean' },
              },
            },
          },
        },
      },
      Package: {
        type: 'object',
        required: ['name', 'releases'],
        properties: {
          name: text,
          summary: text,
          releases: { type: 'array', items: reference('Release') },
        },
      },
      Release: {
        type: 'object',
        required: ['version', 'published', 'archive'],
        properties: {
          version: text,
          published: { type: 'string', format: 'date-time' },
          licence: { type: ['string', 'null'] },
          needs: { type: 'object', additionalProperties: text },
          optional: {
            type: 'object',
            additionalProperties: {
              type: 'object',
              required: ['range'],
              properties: { range: text, when: { type: 'array', items: text } },
            },
          },
          peers: {
            type: 'object',
            additionalProperties: {
              type: 'object',
              required: ['range'],
              properties: { range: text, optional: { type: 'boolean' } },
            },
          },
          platform: { type: 'object', additionalProperties: text },
          targets: { type: 'array', items: text },
          deprecated: { type: ['string', 'null'] },
          withdrawn: { type: 'boolean' },
          notes: { type: 'string', description: 'Markdown' },
          archive: {
            type: 'object',
            required: ['path', 'integrity', 'bytes'],
            properties: { path: text, integrity: text, bytes: { type: 'integer' } },
          },
        },
      },
    },
  },
} as const;
