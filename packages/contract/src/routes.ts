import { z } from 'zod';
import { healthSchema } from './common.js';
import {
  clockInputSchema,
  findingInputSchema,
  findingSchema,
  fittingInputSchema,
  fittingSchema,
  fittingSummarySchema,
  markInputSchema,
  photoSchema,
  standInputSchema,
  standRecordSchema,
  unmarkSchema,
} from './before-riding.js';
import { partImportSchema, partInputSchemas, partSchemas } from './parts.js';
import {
  newSetupSchema,
  revisionInputSchema,
  setupDetailSchema,
  setupFileSchema,
  setupSchema,
  thumbRulesSchema,
} from './setups.js';
import {
  courseInputSchema,
  courseSchema,
  drawingSchema,
  timingGatesInputSchema,
  outingInputSchema,
  outingSchema,
} from './courses.js';
import { stripSchema } from './figures.js';
import { importFileSchema, splitInputSchema, splitSchema, startImportSchema } from './imports.js';
import { quickLookLogSchema, quickLookTableSchema } from './quick-look.js';
import { planBasisQuerySchema, planBasisSchema, planSaveSchema, planSchema } from './plans.js';
import {
  loggerAnswerSchema,
  marksInputSchema,
  newRideSchema,
  rideChangeSchema,
  rideOverviewSchema,
  rideSchema,
  rideStepSchema,
  simulateSchema,
} from './rides.js';
import {
  correctionInputSchema,
  exclusionInputSchema,
  reanalysisInputSchema,
  reanalysisPlaceSchema,
  reanalysisSchema,
  repeatedFigureSchema,
  runDetailSchema,
  runPageSchema,
} from './runs.js';
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
    multipart: ['file', 'setup', 'value', 'block', 'covariate', 'group', 'smallestDifference', 'better', 'seed'],
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
    {
      method: 'post',
      path: `/api/bench/${kind}/csv`,
      summary: `Add or change ${kind} from a CSV file with the columns of GET /api/bench/${kind}/csv`,
      multipart: ['file'],
      response: partImportSchema,
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
    summary: 'Add a revision; 409 when another was added since the one it is based on',
    body: revisionInputSchema,
    response: setupDetailSchema,
  },
  { method: 'get', path: '/api/thumb-rules', summary: 'Consumption by rule of thumb', response: thumbRulesSchema },
  {
    method: 'put',
    path: '/api/thumb-rules',
    summary: 'Change the rules of thumb',
    body: thumbRulesSchema,
    response: thumbRulesSchema,
  },
  {
    method: 'get',
    path: '/api/setups/{id}',
    summary: 'One setup with the parts of every revision as they were',
    response: setupDetailSchema,
  },
  {
    method: 'post',
    path: '/api/setups/{id}/copy',
    summary: 'Duplicate a setup, without its runs and marks',
    response: setupDetailSchema,
  },
  {
    method: 'get',
    path: '/api/setups/{id}/file',
    summary: 'One setup with all its parts as one JSON file (JSON Schema: /api/schemas/setup.json)',
    response: setupFileSchema,
  },
  {
    method: 'post',
    path: '/api/setups/file',
    summary: 'Add a setup from such a file',
    multipart: ['file'],
    response: setupDetailSchema,
  },
  {
    method: 'post',
    path: '/api/revisions/{id}/marks',
    summary: 'Pass checks, or waive them in writing',
    body: markInputSchema,
    response: setupDetailSchema,
  },
  {
    method: 'post',
    path: '/api/revisions/{id}/unmark',
    summary: 'Withdraw marks',
    body: unmarkSchema,
    response: setupDetailSchema,
  },
  {
    method: 'put',
    path: '/api/revisions/{id}/stand',
    summary: 'Record the stand test of a revision',
    body: standInputSchema,
    response: standRecordSchema,
  },
  {
    method: 'get',
    path: '/api/setups/{id}/stand',
    summary: 'Stand tests of a setup, newest revision first',
    response: standRecordSchema.array(),
  },
  { method: 'get', path: '/api/setups/{id}/fitting', summary: 'Fitting steps of a setup', response: fittingSchema },
  {
    method: 'put',
    path: '/api/setups/{id}/fitting',
    summary: 'Store the fitting steps',
    body: fittingInputSchema,
    response: fittingSchema,
  },
  {
    method: 'post',
    path: '/api/setups/{id}/fitting/clock',
    summary: 'Start or stop the clock of a step',
    body: clockInputSchema,
    response: fittingSchema,
  },
  {
    method: 'get',
    path: '/api/fittings',
    summary: 'Time, tools and trouble of all fittings',
    response: fittingSummarySchema.array(),
  },
  { method: 'get', path: '/api/setups/{id}/findings', summary: 'What was found', response: findingSchema.array() },
  {
    method: 'post',
    path: '/api/setups/{id}/findings',
    summary: 'Note a finding',
    body: findingInputSchema,
    response: findingSchema.array(),
  },
  {
    method: 'post',
    path: '/api/photos',
    summary: 'Add a photo (JPEG, PNG or WebP); location data is taken out, the size reduced',
    multipart: ['file', 'owner', 'ownerId', 'step', 'caption'],
    response: photoSchema,
  },
  { method: 'get', path: '/api/courses', summary: 'All courses', response: courseSchema.array() },
  { method: 'post', path: '/api/courses', summary: 'Add a course', body: courseInputSchema, response: courseSchema },
  {
    method: 'post',
    path: '/api/courses/{id}/track',
    summary: 'Set the track of a course: GPX, GeoJSON, or a CSV table of distance and altitude',
    multipart: ['file'],
    response: courseSchema,
  },
  {
    method: 'put',
    path: '/api/courses/{id}/gates',
    summary: 'Set the gates; with runs on the course only when they are to be cut anew',
    body: timingGatesInputSchema,
    response: courseSchema,
  },
  {
    method: 'put',
    path: '/api/courses/{id}/drawing',
    summary: 'Draw the course: corners in metres and altitudes',
    body: drawingSchema,
    response: courseSchema,
  },
  {
    method: 'put',
    path: '/api/trials/{id}/plan',
    summary: 'Store the plan of a trial; with a reason once riding has begun',
    body: planSaveSchema,
    response: planSchema,
  },
  {
    method: 'post',
    path: '/api/trials/{id}/plan/basis',
    summary: 'Scatter of the deciding figure, and time, energy and warmth of every ride',
    body: planBasisQuerySchema,
    response: planBasisSchema,
  },
  {
    method: 'get',
    path: '/api/rides',
    summary: 'Rides under way, next by plan, and over',
    response: rideOverviewSchema,
  },
  {
    method: 'post',
    path: '/api/rides',
    summary: 'Begin a planned or a free ride',
    body: newRideSchema,
    response: rideSchema,
  },
  {
    method: 'get',
    path: '/api/rides/{id}',
    summary: 'A ride; /api/rides/{id}/events streams it',
    response: rideSchema,
  },
  {
    method: 'put',
    path: '/api/rides/{id}',
    summary: 'Store preparations and readings',
    body: rideChangeSchema,
    response: rideSchema,
  },
  {
    method: 'post',
    path: '/api/rides/{id}/step',
    summary: 'Go on to another state',
    body: rideStepSchema,
    response: rideSchema,
  },
  {
    method: 'post',
    path: '/api/rides/{id}/marks',
    summary: 'Add marks; the same twice is once',
    body: marksInputSchema,
    response: rideSchema,
  },
  {
    method: 'post',
    path: '/api/rides/{id}/simulate',
    summary: 'Let the simulated logger ride it',
    body: simulateSchema,
    response: rideSchema,
  },
  {
    method: 'post',
    path: '/api/logger/lines',
    summary: 'Lines of a logger as NDJSON (docs/logger-protocol.md); /api/logger/stream takes them over WebSocket',
    response: loggerAnswerSchema,
  },
  { method: 'get', path: '/api/outings', summary: 'All outings', response: outingSchema.array() },
  { method: 'post', path: '/api/outings', summary: 'Add an outing', body: outingInputSchema, response: outingSchema },
  {
    method: 'post',
    path: '/api/imports/{id}/split',
    summary: 'Proposes the runs that the log of an outing holds',
    body: splitInputSchema,
    response: splitSchema,
  },
  {
    method: 'put',
    path: '/api/runs/{id}/spans',
    summary: 'Sets the stretches that figures rest on; they are worked out again',
    body: correctionInputSchema,
    response: runDetailSchema,
  },
  {
    method: 'delete',
    path: '/api/runs/{id}/spans',
    summary: 'Undoes the newest correction of stretches',
    response: runDetailSchema,
  },
  {
    method: 'get',
    path: '/api/reanalysis',
    summary: 'Runs worked out by an earlier method, and the work on them',
    response: reanalysisPlaceSchema,
  },
  {
    method: 'post',
    path: '/api/reanalysis',
    summary: 'Works out figures again in the background',
    body: reanalysisInputSchema,
    response: reanalysisSchema,
  },
  {
    method: 'delete',
    path: '/api/reanalysis/{id}',
    summary: 'Stops working figures out again',
    response: reanalysisSchema,
  },
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
  {
    method: 'get',
    path: '/api/setups/{id}/figures',
    summary: 'Figures of a setup over all its counted runs, by test and course',
    response: z.array(repeatedFigureSchema),
  },
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
