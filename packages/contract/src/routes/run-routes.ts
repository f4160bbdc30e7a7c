import { ADDRESSES } from '../addresses.js';
import { versionQuerySchema } from '../common.js';
import { stripSchema } from '../figures.js';
import { splitSchema } from '../imports.js';
import { ridingChangedSchema, ridingChangeSchema } from '../riding.js';
import {
  correctionInputSchema,
  exclusionInputSchema,
  learnedReadingsSchema,
  reanalysisInputSchema,
  reanalysisOverviewSchema,
  reanalysisSchema,
  repeatedFigureSchema,
  runChangeSchema,
  runDetailSchema,
  runIdsSchema,
  runPageSchema,
  runQuerySchema,
  splitRunQuerySchema,
  splitRunSchema,
  stripQuerySchema,
} from '../runs.js';
import type { Route } from './route.js';

/** Runs and their figures. */
export const runRoutes = {
  listRuns: {
    ...ADDRESSES.listRuns,
    summary: 'Runs, filtered and sorted',
    query: runQuerySchema,
    answer: runPageSchema,
  },
  getRunsCsv: {
    ...ADDRESSES.getRunsCsv,
    summary: 'The same runs as CSV, all of them',
    query: runQuerySchema,
    answer: 'text/csv',
  },
  repeatedFigures: {
    ...ADDRESSES.repeatedFigures,
    summary: 'Figures of a setup over all its counted runs, by test and course',
    answer: repeatedFigureSchema.array(),
  },
  getLearnedReadings: {
    ...ADDRESSES.getLearnedReadings,
    summary: 'What the gauge and the charger of a setup were seen to mean beside a logger',
    answer: learnedReadingsSchema,
  },
  getRun: { ...ADDRESSES.getRun, summary: 'One run with all its figures', answer: runDetailSchema },
  getStrip: {
    ...ADDRESSES.getStrip,
    summary: 'Channels of a run to draw',
    query: stripQuerySchema,
    answer: stripSchema,
  },
  getRunFile: {
    ...ADDRESSES.getRunFile,
    summary: 'The log as it came',
    answer: 'application/octet-stream',
  },
  getRunChannels: {
    ...ADDRESSES.getRunChannels,
    summary: 'Cleaned channels as CSV',
    answer: 'text/csv',
  },
  assignRun: {
    ...ADDRESSES.assignRun,
    summary: 'Change what was ridden; figures are recalculated',
    body: runChangeSchema,
    answer: runDetailSchema,
  },
  deleteRuns: {
    ...ADDRESSES.deleteRuns,
    summary: 'Take runs out of all lists and verdicts; they can be brought back',
    body: runIdsSchema,
    answer: ridingChangedSchema,
  },
  restoreRuns: {
    ...ADDRESSES.restoreRuns,
    summary: 'Bring deleted runs back',
    body: runIdsSchema,
    answer: ridingChangedSchema,
  },
  proposeRunSplit: {
    ...ADDRESSES.proposeRunSplit,
    summary: 'Propose the runs that one run turns out to hold',
    query: splitRunQuerySchema,
    answer: splitSchema,
  },
  splitRun: {
    ...ADDRESSES.splitRun,
    summary: 'Make several runs of one; it is deleted, and can be brought back',
    body: splitRunSchema,
    answer: runIdsSchema,
  },
  changeRiding: {
    ...ADDRESSES.changeRiding,
    summary: 'Write down how runs were ridden, for many at once; figures that rest on it are worked out again',
    body: ridingChangeSchema,
    answer: ridingChangedSchema,
  },
  correctSpans: {
    ...ADDRESSES.correctSpans,
    summary: 'Set the parts of the log that figures use; they are recalculated',
    body: correctionInputSchema,
    answer: runDetailSchema,
  },
  undoCorrection: {
    ...ADDRESSES.undoCorrection,
    summary: 'Undo the newest correction',
    query: versionQuerySchema,
    answer: runDetailSchema,
  },
  excludeRun: {
    ...ADDRESSES.excludeRun,
    summary: 'Leave a run out, with the reason',
    body: exclusionInputSchema,
    answer: runDetailSchema,
  },
  includeRun: {
    ...ADDRESSES.includeRun,
    summary: 'Include a run again',
    query: versionQuerySchema,
    answer: runDetailSchema,
  },
  reanalysis: {
    ...ADDRESSES.reanalysis,
    summary: 'Runs calculated by an earlier method, and the work on them',
    answer: reanalysisOverviewSchema,
  },
  beginReanalysis: {
    ...ADDRESSES.beginReanalysis,
    summary: 'Recalculate figures in the background',
    body: reanalysisInputSchema,
    answer: reanalysisSchema,
  },
  cancelReanalysis: {
    ...ADDRESSES.cancelReanalysis,
    summary: 'Stop recalculating',
    answer: reanalysisSchema,
  },
} as const satisfies Readonly<Record<string, Route>>;
