import { ADDRESSES } from '../addresses.js';
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
  trialListQuerySchema,
  trialNameSchema,
  trialRunsSchema,
  trialSchema,
  verdictSchema,
} from '../trials.js';
import { z } from 'zod';
import type { Route } from './route.js';

/** Trials, plans, rides and loggers. */
export const trialRoutes = {
  listTrials: {
    ...ADDRESSES.listTrials,
    summary: 'Trials with their verdicts in brief, in pieces',
    query: trialListQuerySchema,
    answer: trialListItemSchema.array(),
  },
  listTrialNames: {
    ...ADDRESSES.listTrialNames,
    summary: 'The questions of all trials, to choose one by',
    answer: trialNameSchema.array(),
  },
  getTrial: { ...ADDRESSES.getTrial, summary: 'One trial', answer: trialSchema },
  getTrialRuns: {
    ...ADDRESSES.getTrialRuns,
    summary: 'Runs of a trial with the letters of their setups',
    answer: trialRunsSchema,
  },
  getVerdict: {
    ...ADDRESSES.getVerdict,
    summary: 'What the runs of a trial let one conclude',
    answer: verdictSchema,
  },
  addTrial: { ...ADDRESSES.addTrial, summary: 'Add a trial', body: trialInputSchema, answer: trialSchema },
  changeTrial: {
    ...ADDRESSES.changeTrial,
    summary: 'Change a trial',
    body: trialChangeSchema,
    answer: trialSchema,
  },
  archiveTrial: {
    ...ADDRESSES.archiveTrial,
    summary: 'Archive or restore a trial',
    body: archiveInputSchema,
    answer: trialSchema,
  },
  deleteTrial: {
    ...ADDRESSES.deleteTrial,
    summary: 'Delete a trial; its runs stay',
    query: seenQuerySchema,
    answer: null,
  },
  getPlan: {
    ...ADDRESSES.getPlan,
    summary: 'The plan of a trial, if there is one',
    answer: z.strictObject({ plan: planSchema.nullable() }),
  },
  listOpenSlots: {
    ...ADDRESSES.listOpenSlots,
    summary: 'Planned runs of all trials that are not ridden yet, in riding order',
    answer: openSlotSchema.array(),
  },
  savePlan: {
    ...ADDRESSES.savePlan,
    summary: 'Store the plan of a trial; with a reason once riding has started',
    body: planSaveSchema,
    answer: planSchema,
  },
  getPlanBasis: {
    ...ADDRESSES.getPlanBasis,
    access: 'reader',
    summary: 'Scatter of the deciding figure, and time, energy and warmth of every ride',
    body: planBasisQuerySchema,
    answer: planBasisSchema,
  },
  getRideOverview: {
    ...ADDRESSES.getRideOverview,
    summary: 'Rides in progress, next in the plan, and over',
    answer: rideOverviewSchema,
  },
  beginRide: {
    ...ADDRESSES.beginRide,
    summary: 'Begin a planned or a free ride',
    body: newRideSchema,
    answer: rideSchema,
  },
  getRide: { ...ADDRESSES.getRide, summary: 'One ride', answer: rideSchema },
  streamRide: {
    ...ADDRESSES.streamRide,
    summary: 'A ride and its newest readings as they change',
    answer: 'text/event-stream',
  },
  changeRide: {
    ...ADDRESSES.changeRide,
    summary: 'Store preparations, limits and readings',
    body: rideChangeSchema,
    answer: rideSchema,
  },
  stepRide: {
    ...ADDRESSES.stepRide,
    summary: 'Move a ride on to another state',
    body: rideStepSchema,
    answer: rideSchema,
  },
  sendMarks: {
    ...ADDRESSES.sendMarks,
    summary: 'Add marks; the same twice is once',
    body: marksInputSchema,
    answer: rideSchema,
  },
  undoMark: {
    ...ADDRESSES.undoMark,
    summary: 'Undo a mark, or restore it',
    body: z.strictObject({ undone: z.boolean() }),
    answer: rideSchema,
  },
  simulateRide: {
    ...ADDRESSES.simulateRide,
    summary: 'Let the simulated logger ride it',
    body: simulateSchema,
    answer: rideSchema,
  },
  takeAlong: {
    ...ADDRESSES.takeAlong,
    summary: 'What a phone needs to lead an outing without a server, and its secret as a logger',
    body: takeAlongSchema,
    answer: alongBundleSchema,
  },
  bringRide: {
    ...ADDRESSES.bringRide,
    summary: 'A ride that a phone led by itself; the same twice is once',
    body: alongRideInputSchema,
    answer: rideSchema,
  },
  bringOutingFile: {
    ...ADDRESSES.bringOutingFile,
    summary: 'An outing that a phone led, as one file; rides that are here already stay as they are',
    multipart: ['file'],
    answer: alongFileOutcomeSchema.array(),
  },
  sendLoggerLines: {
    ...ADDRESSES.sendLoggerLines,
    access: 'anyone',
    summary: 'Lines of a logger as NDJSON (docs/logger-protocol.md); logger/stream takes them over WebSocket',
    answer: loggerAnswerSchema,
  },
} as const satisfies Readonly<Record<string, Route>>;
