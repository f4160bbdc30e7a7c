import { z } from 'zod';
import { apiErrorSchema, partKindSchema, ROUTES, type Route } from '@ebrix/contract';
import { VERSION } from '../common/config.js';

/** The API's description, made from the contract's table of routes and nothing else. */
export function openApiDocument(): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const [operationId, route] of Object.entries<Route>(ROUTES)) {
    const path = `/api/${route.path}`;
    paths[path] = { ...paths[path], [route.method]: operation(operationId, route) };
  }
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

function operation(operationId: string, route: Route): object {
  const { path, summary, query, body, multipart } = route;
  const parameters = [...pathParameters(path), ...(query ? queryParameters(query) : [])];
  return {
    operationId,
    summary,
    ...(parameters.length > 0 && { parameters }),
    ...(body && {
      requestBody: { required: true, content: { 'application/json': { schema: schemaOf(body, 'input') } } },
    }),
    ...(multipart && {
      requestBody: { required: true, content: { 'multipart/form-data': { schema: multipartSchema(multipart) } } },
    }),
    responses: {
      '2XX': { description: 'Done', ...answerContent(route.answer) },
      default: {
        description: 'A sentence on what is wrong',
        content: { 'application/json': { schema: { $ref: '#/components/schemas/Error' } } },
      },
    },
  };
}

function answerContent(answer: Route['answer']): object {
  if (answer === null) return {};
  if (typeof answer === 'string') return { content: { [answer]: { schema: { type: 'string' } } } };
  return { content: { 'application/json': { schema: schemaOf(answer, 'output') } } };
}

function pathParameters(path: string): object[] {
  return [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: name === 'kind' ? schemaOf(partKindSchema, 'input') : { type: 'string', format: 'uuid' },
  }));
}

/** One parameter for each field of the query. */
function queryParameters(query: z.ZodType): object[] {
  const { properties = {}, required = [] } = schemaOf(query, 'input') as {
    properties?: Record<string, object>;
    required?: readonly string[];
  };
  return Object.entries(properties).map(([name, schema]) => ({
    name,
    in: 'query',
    required: required.includes(name),
    schema,
  }));
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
