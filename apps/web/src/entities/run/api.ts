import {
  ROUTES,
  type GivenSpanDto,
  type LearnedReadings,
  type Reanalysis,
  type RepeatedFigure,
  type RidingChange,
  type RunAssignment,
  type RunDetail,
  type RunListPage,
  type Split,
  type SplitRun,
  type Strip,
} from '@ebrix/contract';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export interface TimeSpan {
  readonly fromS: number;
  readonly toS: number;
}

/** Lists, verdicts, and counts of runs wherever they stand. */
const CHANGED = ['Course', 'Outing', 'Plan', 'Run', 'Setup', 'Trial'] as const;

export const runsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listRuns: build.query<RunListPage, string>({
      query: (search) => requestTo(ROUTES.listRuns, { query: search }),
      transformResponse: answerOf(ROUTES.listRuns),
      providesTags: ['Run'],
    }),
    getRun: build.query<RunDetail, string>({
      query: (id) => requestTo(ROUTES.getRun, { params: { id } }),
      transformResponse: answerOf(ROUTES.getRun),
      providesTags: ['Run'],
    }),
    getStrip: build.query<Strip, { id: string; bins: number; logSpan?: TimeSpan }>({
      query: ({ id, bins, logSpan }) => requestTo(ROUTES.getStrip, { params: { id }, query: { bins, ...logSpan } }),
      transformResponse: answerOf(ROUTES.getStrip),
      keepUnusedDataFor: 120,
    }),
    changeRiding: build.mutation<{ changed: number }, RidingChange>({
      query: (body) => requestTo(ROUTES.changeRiding, { body }),
      transformResponse: answerOf(ROUTES.changeRiding),
      invalidatesTags: ['Run', 'Trial'],
    }),
    deleteRuns: build.mutation<{ changed: number }, readonly string[]>({
      query: (runIds) => requestTo(ROUTES.deleteRuns, { body: { runIds: [...runIds] } }),
      transformResponse: answerOf(ROUTES.deleteRuns),
      invalidatesTags: CHANGED,
    }),
    restoreRuns: build.mutation<{ changed: number }, readonly string[]>({
      query: (runIds) => requestTo(ROUTES.restoreRuns, { body: { runIds: [...runIds] } }),
      transformResponse: answerOf(ROUTES.restoreRuns),
      invalidatesTags: CHANGED,
    }),
    proposeRunSplit: build.mutation<Split, { id: string; course?: string }>({
      query: ({ id, ...query }) => requestTo(ROUTES.proposeRunSplit, { params: { id }, query }),
      transformResponse: answerOf(ROUTES.proposeRunSplit),
    }),
    splitRun: build.mutation<{ runIds: string[] }, { id: string } & SplitRun>({
      query: ({ id, ...body }) => requestTo(ROUTES.splitRun, { params: { id }, body }),
      transformResponse: answerOf(ROUTES.splitRun),
      invalidatesTags: CHANGED,
    }),
    excludeRun: build.mutation<RunDetail, { id: string; version: number; reason: string }>({
      query: ({ id, ...body }) => requestTo(ROUTES.excludeRun, { params: { id }, body }),
      transformResponse: answerOf(ROUTES.excludeRun),
      invalidatesTags: ['Run', 'Trial'],
    }),
    includeRun: build.mutation<RunDetail, { id: string; version: number }>({
      query: ({ id, version }) => requestTo(ROUTES.includeRun, { params: { id }, query: { version } }),
      transformResponse: answerOf(ROUTES.includeRun),
      invalidatesTags: ['Run', 'Trial'],
    }),
    correctSpans: build.mutation<RunDetail, { id: string; version: number; spans: GivenSpanDto[]; what: string }>({
      query: ({ id, ...body }) => requestTo(ROUTES.correctSpans, { params: { id }, body }),
      transformResponse: answerOf(ROUTES.correctSpans),
      invalidatesTags: ['Run', 'Trial'],
    }),
    undoCorrection: build.mutation<RunDetail, { id: string; version: number }>({
      query: ({ id, version }) => requestTo(ROUTES.undoCorrection, { params: { id }, query: { version } }),
      transformResponse: answerOf(ROUTES.undoCorrection),
      invalidatesTags: ['Run', 'Trial'],
    }),
    repeatedFigures: build.query<RepeatedFigure[], string>({
      query: (setupId) => requestTo(ROUTES.repeatedFigures, { params: { id: setupId } }),
      transformResponse: answerOf(ROUTES.repeatedFigures),
      providesTags: ['Run'],
    }),
    learnedReadings: build.query<LearnedReadings, string>({
      query: (setupId) => requestTo(ROUTES.getLearnedReadings, { params: { id: setupId } }),
      transformResponse: answerOf(ROUTES.getLearnedReadings),
      providesTags: ['Run'],
    }),
    reanalysis: build.query<{ outdated: number; latest: Reanalysis | null }, void>({
      query: () => requestTo(ROUTES.reanalysis),
      transformResponse: answerOf(ROUTES.reanalysis),
      providesTags: ['Reanalysis'],
    }),
    beginReanalysis: build.mutation<Reanalysis, 'outdated' | 'all'>({
      query: (scope) => requestTo(ROUTES.beginReanalysis, { body: { scope } }),
      transformResponse: answerOf(ROUTES.beginReanalysis),
      invalidatesTags: ['Reanalysis'],
    }),
    cancelReanalysis: build.mutation<Reanalysis, string>({
      query: (id) => requestTo(ROUTES.cancelReanalysis, { params: { id } }),
      transformResponse: answerOf(ROUTES.cancelReanalysis),
      invalidatesTags: ['Reanalysis'],
    }),
    assignRun: build.mutation<RunDetail, { id: string; version: number; assignment: RunAssignment }>({
      query: ({ id, ...body }) => requestTo(ROUTES.assignRun, { params: { id }, body }),
      transformResponse: answerOf(ROUTES.assignRun),
      invalidatesTags: ['Run', 'Trial'],
    }),
  }),
});
export const {
  useLearnedReadingsQuery,
  useListRunsQuery,
  useGetRunQuery,
  useGetStripQuery,
  useExcludeRunMutation,
  useIncludeRunMutation,
  useAssignRunMutation,
  useChangeRidingMutation,
  useDeleteRunsMutation,
  useProposeRunSplitMutation,
  useRestoreRunsMutation,
  useSplitRunMutation,
  useCorrectSpansMutation,
  useUndoCorrectionMutation,
  useRepeatedFiguresQuery,
  useReanalysisQuery,
  useBeginReanalysisMutation,
  useCancelReanalysisMutation,
} = runsApi;
