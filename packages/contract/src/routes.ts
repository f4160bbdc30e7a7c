import type { z } from 'zod';
import { healthSchema } from './common.js';
import { partInputSchemas, partSchemas, newSetupSchema, revisionInputSchema, setupSchema } from './bench.js';
import { courseInputSchema, courseSchema, outingInputSchema, outingSchema } from './courses.js';
import { stripSchema } from './figures.js';
import { importFileSchema, startImportSchema } from './imports.js';
import { quickLookLogSchema, quickLookTableSchema } from './quick-look.js';
import { exclusionInputSchema, runDetailSchema, runPageSchema } from './runs.js';
import { trialInputSchema, trialSchema, verdictSchema } from './trials.js';

export interface Route {
  readonly method: 'get' | 'post' | 'put' | 'delete';
  readonly path: string;
  readonly summary: string;
  readonly body?: z.ZodType;
  /** Parts of a multipart body beside the file. */
  readonly multipart?: readonly string[];
  readonly response: z.ZodType;
}

/** What `/api/openapi.json` is made of. */
export const ROUTES: readonly Route[] = [
  { method: 'get', path: '/api/health', summary: 'Whether server and database answer', response: healthSchema },
  {
    method: 'post',
    path: '/api/quick-look/log',
    summary: 'Figures of one log; nothing is stored',
    multipart: ['file', 'test', 'context'],
    response: quickLookLogSchema,
  },
  {
    method: 'post',
    path: '/api/quick-look/table',
    summary: 'Comparison of a table of run results; nothing is stored',
    multipart: ['file', 'setup', 'value', 'block', 'covariate', 'group', 'sdm', 'better', 'seed'],
    response: quickLookTableSchema,
  },
  ...(Object.keys(partSchemas) as (keyof typeof partSchemas)[]).flatMap((kind): Route[] => [
    { method: 'get', path: `/api/bench/${kind}`, summary: `All ${kind}`, response: partSchemas[kind].array() },
    {
      method: 'post',
      path: `/api/bench/${kind}`,
      summary: `Add one of ${kind}`,
      body: partInputSchemas[kind],
      response: partSchemas[kind],
    },
  ]),
  { method: 'get', path: '/api/setups', summary: 'All setups with their revisions', response: setupSchema.array() },
  {
    method: 'post',
    path: '/api/setups',
    summary: 'Add a setup with its first revision',
    body: newSetupSchema,
    response: setupSchema,
  },
  {
    method: 'post',
    path: '/api/setups/{id}/revisions',
    summary: 'Add a revision',
    body: revisionInputSchema,
    response: setupSchema,
  },
  { method: 'get', path: '/api/courses', summary: 'All courses', response: courseSchema.array() },
  { method: 'post', path: '/api/courses', summary: 'Add a course', body: courseInputSchema, response: courseSchema },
  {
    method: 'post',
    path: '/api/courses/{id}/track',
    summary: 'Set the GPX track of a course',
    multipart: ['file'],
    response: courseSchema,
  },
  { method: 'get', path: '/api/outings', summary: 'All outings', response: outingSchema.array() },
  { method: 'post', path: '/api/outings', summary: 'Add an outing', body: outingInputSchema, response: outingSchema },
  {
    method: 'post',
    path: '/api/imports',
    summary: 'Stage log files',
    multipart: ['files'],
    response: importFileSchema.array(),
  },
  {
    method: 'post',
    path: '/api/imports/start',
    summary: 'Make runs of staged files',
    body: startImportSchema,
    response: importFileSchema.array(),
  },
  { method: 'get', path: '/api/runs', summary: 'Runs, filtered and sorted', response: runPageSchema },
  { method: 'get', path: '/api/runs/{id}', summary: 'One run with all its figures', response: runDetailSchema },
  { method: 'get', path: '/api/runs/{id}/strip', summary: 'Channels of a run to draw', response: stripSchema },
  {
    method: 'post',
    path: '/api/runs/{id}/exclusion',
    summary: 'Leave a run out, with the reason',
    body: exclusionInputSchema,
    response: runDetailSchema,
  },
  { method: 'get', path: '/api/trials', summary: 'All trials', response: trialSchema.array() },
  { method: 'post', path: '/api/trials', summary: 'Add a trial', body: trialInputSchema, response: trialSchema },
  {
    method: 'get',
    path: '/api/trials/{id}/verdict',
    summary: 'What the runs of a trial let one conclude',
    response: verdictSchema,
  },
];
