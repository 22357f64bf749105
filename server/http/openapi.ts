import type { JSONSchema } from 'json-schema-to-ts';
import { problem } from '../../core/wire/common.js';
import type { Access, Route } from './route.js';

type Json = Record<string, unknown>;

const security: Readonly<Record<Access, Json[]>> = {
  anyone: [],
  'source-key': [{ sourceKey: [] }],
  reader: [{ token: [] }, { session: [] }],
  analyst: [{ token: [] }, { session: [] }],
  admin: [{ token: [] }, { session: [] }],
};

function parameters(schema: JSONSchema | undefined, place: 'path' | 'query'): Json[] {
  if (schema === undefined || typeof schema === 'boolean') return [];
  const required = schema.required ?? [];
  return Object.entries((schema.properties ?? {}) as Json).map(([name, inner]) => ({
    name,
    in: place,
    required: place === 'path' || required.includes(name),
    schema: inner,
  }));
}

/** A name for what a route does, by which programs made from the description call it: `getAlertsId`. */
export function operationId({ method, path }: Pick<Route, 'method' | 'path'>): string {
  const words = path.split(/[^A-Za-z0-9]+/).filter((word) => word !== '');
  return method + words.map((word) => word.charAt(0).toUpperCase() + word.slice(1)).join('');
}

/** What a route takes besides its parameters; null where it takes nothing. */
function requestBody({ body, rawBody }: Route): Json | null {
  if (rawBody === true)
    return {
      required: true,
      description: 'Records as they are, plain or gzipped.',
      content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } },
    };
  return body === undefined ? null : { required: true, content: { 'application/json': { schema: body } } };
}

/** The description of the API (OpenAPI 3.1), made from the very schemas that requests are checked against. */
export function openApi(routes: readonly Route[]): Json {
  const paths: Record<string, Json> = {};
  for (const route of routes) {
    const path = `/api/v1${route.path.replace(/:(\w+)/g, '{$1}')}`;
    const body = requestBody(route);
    const operation: Json = {
      operationId: operationId(route),
      tags: [route.path.split('/')[1] ?? ''],
      summary: route.summary,
      description: `For: ${route.access}.`,
      security: security[route.access],
      parameters: [...parameters(route.params, 'path'), ...parameters(route.query, 'query')],
      ...(body !== null && { requestBody: body }),
      responses: {
        '200': {
          description: 'Done',
          ...(route.answer !== undefined && { content: { 'application/json': { schema: route.answer } } }),
        },
        default: {
          description: 'It failed',
          content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
        },
      },
    };
    paths[path] = { ...paths[path], [route.method]: operation };
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Under Lamp', version: '1', description: 'Everything the screens show and do.' },
    servers: [{ url: '/', description: 'this workbench' }],
    paths,
    components: {
      schemas: { Problem: problem },
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: 'lamp.sid' },
        token: { type: 'http', scheme: 'bearer', description: 'a personal token, made in the user menu' },
        sourceKey: { type: 'http', scheme: 'bearer', description: 'the key of the source that is sent to' },
      },
    },
  };
}
