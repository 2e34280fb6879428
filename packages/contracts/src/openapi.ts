import * as z from 'zod';
import { ALL_ENDPOINTS, Nothing, type Endpoint } from './endpoint.js';

const PROBLEM = {
  type: 'object',
  description: 'RFC 9457 problem details',
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string' },
    code: { type: 'string' },
    fields: {
      type: 'array',
      items: { type: 'object', properties: { field: { type: 'string' }, message: { type: 'string' } } },
    },
  },
};

function schema(type: z.ZodType, io: 'input' | 'output'): Record<string, unknown> {
  const made = z.toJSONSchema(type, { io, unrepresentable: 'any', target: 'draft-2020-12' }) as Record<string, unknown>;
  delete made['$schema'];
  return made;
}

function parameters(e: Endpoint): object[] {
  const of = (type: z.ZodType, place: 'path' | 'query'): object[] => {
    const s = schema(type, 'input') as { properties?: Record<string, object>; required?: string[] };
    return Object.entries(s.properties ?? {}).map(([name, sub]) => ({
      name,
      in: place,
      required: place === 'path' || (s.required ?? []).includes(name),
      schema: sub,
    }));
  };
  const header = (name: string, description: string): object => ({
    name,
    in: 'header',
    required: true,
    description,
    schema: { type: 'string' },
  });
  return [
    ...of(e.params, 'path'),
    ...of(e.query, 'query'),
    ...(e.costs ? [header('Idempotency-Key', 'The same key does the same thing once.')] : []),
    ...(e.versioned ? [header('If-Match', 'The version edited, as in ETag.')] : []),
  ];
}

/** The API as an OpenAPI 3.1 document, made from the contracts. */
export function openApiDocument(): Record<string, unknown> {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const e of ALL_ENDPOINTS) {
    const path = `/api/v1${e.path.replace(/:(\w+)/g, '{$1}')}`;
    const text = e.answer instanceof z.ZodString;
    (paths[path] ??= {})[e.method.toLowerCase()] = {
      operationId: e.id,
      summary: e.summary,
      description: `Who may: ${e.access}.${e.stricter ? ` To ${e.stricter.to}: ${e.stricter.access}.` : ''}`,
      tags: [e.id.split('.')[0]],
      parameters: parameters(e),
      ...(e.body === (Nothing as z.ZodType) || e.method === 'GET'
        ? {}
        : { requestBody: { required: true, content: { 'application/json': { schema: schema(e.body, 'input') } } } }),
      responses: {
        '200': {
          description: 'Done',
          content: text
            ? { 'text/plain': { schema: { type: 'string' } } }
            : { 'application/json': { schema: schema(e.answer, 'output') } },
        },
        default: {
          description: 'Refused or failed',
          content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
        },
      },
      ...(e.access === 'public' ? { security: [] } : {}),
    };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Long Gate',
      version: '1',
      description: 'Moments are milliseconds since the epoch; amounts are millionths of a dollar.',
    },
    servers: [{ url: '/' }],
    security: [{ session: [] }],
    paths,
    components: {
      schemas: { Problem: PROBLEM },
      securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'long_gate' } },
    },
  };
}
