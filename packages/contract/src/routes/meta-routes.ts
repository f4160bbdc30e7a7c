import { ADDRESSES } from '../addresses.js';
import { demoStateSchema, healthSchema } from '../common.js';
import { inspectionSchema } from '../imports.js';
import { forecastAnswerSchema } from '../forecast.js';
import { quickLookLogSchema, quickLookTableSchema, tableColumnsSchema } from '../quick-look.js';
import { z } from 'zod';
import type { Route } from './route.js';

/** Health, demo and what stores nothing. */
export const metaRoutes = {
  getHealth: {
    ...ADDRESSES.getHealth,
    access: 'anyone',
    summary: 'Whether server and database answer',
    answer: healthSchema,
  },
  getOpenApi: {
    ...ADDRESSES.getOpenApi,
    access: 'anyone',
    summary: 'This description',
    answer: z.looseObject({}),
  },
  getDemo: {
    ...ADDRESSES.getDemo,
    summary: 'Whether anything is stored, and how far the demo data is',
    answer: demoStateSchema,
  },
  loadDemo: {
    ...ADDRESSES.loadDemo,
    summary: 'Load the demo data into an empty database',
    answer: z.strictObject({ started: z.literal(true) }),
  },
  lookAtLog: {
    ...ADDRESSES.lookAtLog,
    access: 'reader',
    summary: 'Figures of one log; nothing is stored',
    multipart: ['file', 'test', 'context'],
    answer: quickLookLogSchema,
  },
  lookAhead: {
    ...ADDRESSES.lookAhead,
    access: 'reader',
    summary: 'A ride foretold from rides that come with the request; nothing is stored',
    multipart: ['file', 'request'],
    answer: forecastAnswerSchema,
  },
  logColumns: {
    ...ADDRESSES.logColumns,
    access: 'reader',
    summary: 'What the columns of a log were read as',
    multipart: ['file'],
    answer: inspectionSchema,
  },
  lookAtTable: {
    ...ADDRESSES.lookAtTable,
    access: 'reader',
    summary: 'Comparison of a table of run results; nothing is stored',
    multipart: ['file', 'setup', 'value', 'block', 'covariate', 'group', 'smallestDifference', 'better', 'seed'],
    answer: quickLookTableSchema,
  },
  tableColumns: {
    ...ADDRESSES.tableColumns,
    access: 'reader',
    summary: 'Column names and rows of a table',
    multipart: ['file'],
    answer: tableColumnsSchema,
  },
} as const satisfies Readonly<Record<string, Route>>;
