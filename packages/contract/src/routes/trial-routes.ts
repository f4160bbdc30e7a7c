import { alongBundleSchema, alongFileOutcomeSchema, alongRideInputSchema, takeAlongSchema } from '../along.js';
import { archiveInputSchema, seenQuerySchema } from '../common.js';
import { openSlotSchema, planBasisQuerySchema, planBasisSchema, planSaveSchema, planSchema } from '../plans.js';
import {
  loggerAnswerSchema,
  marksInputSchema,
  newRideSchema,
  rideChangeSchema,
  rideOverviewSchema,
  rideSchema,
  rideStepSchema,
  simulateSchema,
} from '../rides.js';
import {
  trialChangeSchema,
  trialInputSchema,
  trialListItemSchema,
  trialRunsSchema,
  trialSchema,
  verdictSchema,
} from '../trials.js';
import { z } from 'zod';
import type { Route } from './route.js';

/** Trials, plans, rides and loggers. */
export const trialRoutes = {
  listTrials: {
    method: 'get',
    path: 'trials',
    summary: 'All trials with their verdicts in brief',
    answer: trialListItemSchema.array(),
  },
  getTrial: { method: 'get', path: 'trials/{id}', summary: 'One trial', answer: trialSchema },
  getTrialRuns: {
    method: 'get',
    path: 'trials/{id}/runs',
    summary: 'Runs of a trial with the letters of their setups',
    answer: trialRunsSchema,
  },
  getVerdict: {
    method: 'get',
    path: 'trials/{id}/verdict',
    summary: 'What the runs of a trial let one conclude',
    answer: verdictSchema,
  },
  addTrial: { method: 'post', path: 'trials', summary: 'Add a trial', body: trialInputSchema, answer: trialSchema },
  changeTrial: {
    method: 'put',
    path: 'trials/{id}',
    summary: 'Change a trial',
    body: trialChangeSchema,
    answer: trialSchema,
  },
  archiveTrial: {
    method: 'put',
    path: 'trials/{id}/archive',
    summary: 'Archive or restore a trial',
    body: archiveInputSchema,
    answer: trialSchema,
  },
  deleteTrial: {
    method: 'delete',
    path: 'trials/{id}',
    summary: 'Delete a trial; its runs stay',
    query: seenQuerySchema,
    answer: null,
  },
  getPlan: {
    method: 'get',
    path: 'trials/{id}/plan',
    summary: 'The plan of a trial, if there is one',
    answer: z.strictObject({ plan: planSchema.nullable() }),
  },
  listOpenSlots: {
    method: 'get',
    path: 'plans/open-slots',
    summary: 'Planned runs of all trials that are not ridden yet, in riding order',
    answer: openSlotSchema.array(),
  },
  savePlan: {
    method: 'put',
    path: 'trials/{id}/plan',
    summary: 'Store the plan of a trial; with a reason once riding has started',
    body: planSaveSchema,
    answer: planSchema,
  },
  getPlanBasis: {
    method: 'post',
    path: 'trials/{id}/plan/basis',
    access: 'reader',
    summary: 'Scatter of the deciding figure, and time, energy and warmth of every ride',
    body: planBasisQuerySchema,
    answer: planBasisSchema,
  },
  getRideOverview: {
    method: 'get',
    path: 'rides',
    summary: 'Rides in progress, next in the plan, and over',
    answer: rideOverviewSchema,
  },
  beginRide: {
    method: 'post',
    path: 'rides',
    summary: 'Begin a planned or a free ride',
    body: newRideSchema,
    answer: rideSchema,
  },
  getRide: { method: 'get', path: 'rides/{id}', summary: 'One ride', answer: rideSchema },
  streamRide: {
    method: 'get',
    path: 'rides/{id}/events',
    summary: 'A ride and its newest readings as they change',
    answer: 'text/event-stream',
  },
  changeRide: {
    method: 'put',
    path: 'rides/{id}',
    summary: 'Store preparations, limits and readings',
    body: rideChangeSchema,
    answer: rideSchema,
  },
  stepRide: {
    method: 'post',
    path: 'rides/{id}/step',
    summary: 'Move a ride on to another state',
    body: rideStepSchema,
    answer: rideSchema,
  },
  sendMarks: {
    method: 'post',
    path: 'rides/{id}/marks',
    summary: 'Add marks; the same twice is once',
    body: marksInputSchema,
    answer: rideSchema,
  },
  undoMark: {
    method: 'post',
    path: 'rides/{id}/marks/{markId}/undo',
    summary: 'Undo a mark, or restore it',
    body: z.strictObject({ undone: z.boolean() }),
    answer: rideSchema,
  },
  simulateRide: {
    method: 'post',
    path: 'rides/{id}/simulate',
    summary: 'Let the simulated logger ride it',
    body: simulateSchema,
    answer: rideSchema,
  },
  takeAlong: {
    method: 'post',
    path: 'along',
    summary: 'What a phone needs to lead an outing without a server, and its secret as a logger',
    body: takeAlongSchema,
    answer: alongBundleSchema,
  },
  bringRide: {
    method: 'put',
    path: 'along/rides/{id}',
    summary: 'A ride that a phone led by itself; the same twice is once',
    body: alongRideInputSchema,
    answer: rideSchema,
  },
  bringOutingFile: {
    method: 'post',
    path: 'along/file',
    summary: 'An outing that a phone led, as one file; rides that are here already stay as they are',
    multipart: ['file'],
    answer: alongFileOutcomeSchema.array(),
  },
  sendLoggerLines: {
    method: 'post',
    path: 'logger/lines',
    access: 'anyone',
    summary: 'Lines of a logger as NDJSON (docs/logger-protocol.md); logger/stream takes them over WebSocket',
    answer: loggerAnswerSchema,
  },
} as const satisfies Readonly<Record<string, Route>>;
