import { z } from 'zod';
import { apiErrorSchema, ROUTES, type Route } from '@ebrix/contract';
import { VERSION } from '../common/config.js';

/** The API's description, made from the contract and nothing else. */
export function openApiDocument(): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const route of ROUTES) paths[route.path] = { ...paths[route.path], [route.method]: operation(route) };
  return {
    openapi: '3.1.0',
    info: {
      title: 'Ebrix',
      version: VERSION,
      description: 'Tests of electric conversion kits: logs in, figures and comparisons out.',
    },
    paths,
    components: { schemas: { Error: schemaOf(apiErrorSchema, 'output') } },
  };
}

function operation({ path, summary, body, multipart, response }: Route): object {
  const parameters = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: { type: 'string', format: 'uuid' },
  }));
  return {
    summary,
    ...(parameters.length > 0 && { parameters }),
    ...(body && {
      requestBody: { required: true, content: { 'application/json': { schema: schemaOf(body, 'input') } } },
    }),
    ...(multipart && {
      requestBody: { required: true, content: { 'multipart/form-data': { schema: multipartSchema(multipart) } } },
    }),
    responses: {
      200: { description: 'Done', content: { 'application/json': { schema: schemaOf(response, 'output') } } },
      default: {
        description: 'A sentence on what is wrong',
        content: { 'application/json': { schema: { $ref: '#/components/schemas/Error' } } },
      },
    },
  };
}

function multipartSchema(parts: readonly string[]): object {
  return {
    type: 'object',
    properties: Object.fromEntries(
      parts.map((name) => [name, name.startsWith('file') ? { type: 'string', format: 'binary' } : { type: 'string' }]),
    ),
  };
}

function schemaOf(schema: z.ZodType, io: 'input' | 'output'): object {
  return z.toJSONSchema(schema, { io, unrepresentable: 'any' });
}
