import { inputSchemas } from '@/services/kit/input-schemas';
import { scopeFor } from '@/core/access/scopes';
import type { Endpoint } from '@/services/kit/api';

/** OpenAPI 3.1 made from the table of routes and the input classes, so that it cannot say anything else. */
export function openApiDocument(routes: readonly Endpoint[]): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const route of routes) {
    const item = (paths[route.path] ??= {});
    item[route.method.toLowerCase()] = operation(route);
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Steady Wren',
      version: '1',
      description: 'Texting with permission: people, programs, broadcasts, and questions to the engines.',
    },
    servers: [{ url: '/api/v1' }],
    security: [{ key: [] }],
    paths,
    components: {
      securitySchemes: { key: { type: 'http', scheme: 'bearer' } },
      schemas: { ...inputSchemas(routes.flatMap(({ input }) => input ?? [])), Problem: PROBLEM },
    },
  };
}

const PROBLEM = {
  type: 'object',
  description: 'RFC 9457 problem document',
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string' },
    errors: {
      type: 'array',
      items: { type: 'object', properties: { field: { type: 'string' }, message: { type: 'string' } } },
    },
  },
};

const problemResponse = {
  description: 'Refused',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
};

function operation({ method, path, summary, input, status, paged }: Endpoint): object {
  const named = input?.name;
  const parameters = [
    ...(method === 'POST'
      ? [
          {
            ...{ name: 'Idempotency-Key', in: 'header', schema: { type: 'string', maxLength: 120 } },
            description: 'Sent again with the same key, the request counts once and gets the first answer.',
          },
        ]
      : []),
    ...(path.includes('{id}')
      ? [{ name: 'id', in: 'path', required: true, schema: { type: 'string' } }]
      : []),
    ...(paged
      ? [
          { name: 'after', in: 'query', schema: { type: 'string' } },
          { name: 'limit', in: 'query', schema: { type: 'integer', minimum: 1, maximum: 200 } },
        ]
      : []),
  ];
  const scope = scopeFor(method, path);
  return {
    summary,
    description: `Needs the scope “${scope}”.`,
    operationId: `${method.toLowerCase()}${path.replace(/[{}]/g, '').replace(/[/-](\w)/g, (_, letter: string) => letter.toUpperCase())}`,
    parameters,
    ...(named
      ? {
          requestBody: {
            required: true,
            content: { 'application/json': { schema: { $ref: `#/components/schemas/${named}` } } },
          },
        }
      : {}),
    responses: {
      [status]: {
        description: 'Done',
        ...(status === 204 ? {} : { content: { 'application/json': { schema: {} } } }),
      },
      '401': problemResponse,
      '403': problemResponse,
      '429': problemResponse,
      '404': problemResponse,
      '409': problemResponse,
      '422': problemResponse,
    },
  };
}
