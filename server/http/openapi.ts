import type { JSONSchema } from 'json-schema-to-ts';
import { problem } from '../../core/wire/common.js';
import { type Access, type AnyEndpoint, operationId } from '../../core/wire/endpoint.js';

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

/** Schemas that are kept under a name of their own, by that name, so that none is told twice. */
class NamedSchemas {
  readonly found: Json = {};

  /** A schema as it stands in the description: a reference, where it has a name. */
  told(schema: unknown): unknown {
    if (Array.isArray(schema)) return schema.map((inner) => this.told(inner));
    if (typeof schema !== 'object' || schema === null) return schema;
    const { $id: name, ...rest } = schema as Json;
    if (typeof name !== 'string')
      return Object.fromEntries(Object.entries(rest).map(([key, inner]) => [key, this.told(inner)]));
    const key =
      name
        .split('/')
        .at(-1)
        ?.replace(/[^A-Za-z0-9._-]/g, '-') ?? name;
    if (!(key in this.found)) {
      // Taken before it is read, so that a schema may hold itself.
      this.found[key] = null;
      this.found[key] = this.told(rest);
    }
    return { $ref: `#/components/schemas/${key}` };
  }
}

/** What an endpoint takes besides its parameters; null where it takes nothing. */
function requestBody({ body, rawBody, example }: AnyEndpoint, schemas: NamedSchemas): Json | null {
  if (rawBody === true)
    return {
      required: true,
      description: 'Records or files as they are, plain or packed.',
      content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } },
    };
  if (body === undefined) return null;
  const content = { schema: schemas.told(body), ...(example !== undefined && { example }) };
  return { required: true, content: { 'application/json': content } };
}

/** What an endpoint answers when all is well, by the form it comes in. */
function answers({ answer, piece, gives = [] }: AnyEndpoint, schemas: NamedSchemas): Json {
  const whole = {
    type: 'string',
    ...((gives.includes('application/zip') || gives.includes('application/octet-stream')) && {
      format: 'binary',
    }),
  };
  return {
    ...(answer !== undefined && { 'application/json': { schema: schemas.told(answer) } }),
    ...Object.fromEntries(
      gives.map((type) => [
        type,
        // Of lines and events, the schema tells one.
        { schema: piece !== undefined && type === 'application/x-ndjson' ? schemas.told(piece) : whole },
      ]),
    ),
  };
}

/** The description of the API (OpenAPI 3.1), made from the very endpoints that are served. */
export function openApi(endpoints: readonly AnyEndpoint[]): Json {
  const schemas = new NamedSchemas();
  const paths: Record<string, Json> = {};
  for (const endpoint of endpoints) {
    const path = `/api/v1${endpoint.path.replace(/:(\w+)/g, '{$1}')}`;
    const body = requestBody(endpoint, schemas);
    const content = answers(endpoint, schemas);
    const operation: Json = {
      operationId: operationId(endpoint),
      tags: [endpoint.path.split('/')[1] ?? ''],
      summary: endpoint.summary,
      description: `For: ${endpoint.access}.`,
      security: security[endpoint.access],
      parameters: [...parameters(endpoint.params, 'path'), ...parameters(endpoint.query, 'query')],
      ...(body !== null && { requestBody: body }),
      responses: {
        '200': { description: 'Done', ...(Object.keys(content).length > 0 && { content }) },
        default: {
          description: 'It failed',
          content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
        },
      },
    };
    paths[path] = { ...paths[path], [endpoint.method]: operation };
  }
  const tags = [...new Set(endpoints.map(({ path }) => path.split('/')[1] ?? ''))].sort();
  return {
    openapi: '3.1.0',
    info: { title: 'Under Lamp', version: '1', description: 'Everything the screens show and do.' },
    servers: [{ url: '/', description: 'this workbench' }],
    tags: tags.map((name) => ({ name })),
    paths,
    components: {
      schemas: { Problem: problem, ...schemas.found },
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: 'lamp.sid' },
        token: { type: 'http', scheme: 'bearer', description: 'a personal token, made in the user menu' },
        sourceKey: { type: 'http', scheme: 'bearer', description: 'the key of the source that is sent to' },
      },
    },
  };
}
